import { randomUUID } from 'node:crypto'
import { photosIn, readWorkspace, type Photos } from '../../core/file'
import { asId, writable, type Day, type Id, type Model } from '../../core/model'
import { begunWith } from '../../core/notation'
import { registry } from '../../core/notations'
import { BadRequest, NotFound } from '../services/errors'

/** Facts for a new workspace. */
export interface Beginning {
  readonly name?: string | undefined
  readonly file?: object | undefined
  readonly starter?: string | undefined
  readonly list?: string | undefined
  /** What the list is read as. */
  readonly as?: string | undefined
}

/** @throws FileError, BadRequest, NotFound: each in words. */
export function beginWith({ name, file, starter, list, as }: Beginning, day: Day): { model: Model; pictures: Photos } {
  const model = file
    ? readWorkspace(file, registry)
    : starter
      ? fromStarter(starter, day)
      : fromList(list ?? '', as, day)
  return { model: name === undefined ? model : model.with({ name }), pictures: photosIn(file) }
}

const newId = (): Id => asId(randomUUID())

function fromStarter(path: string, day: Day): Model {
  const [notation, id] = path.split('/')
  const starter = registry.notations.find((one) => one.id === notation)?.starters.find((one) => one.id === id)
  if (!starter) throw new NotFound(`There is no starter “${path}”.`)
  return starter.make(newId, day)
}

/** A typed list, read as what it looks like unless it is said. */
function fromList(typed: string, as: string | undefined, day: Day): Model {
  const begun = begunWith(registry.notations, writable(typed), as, newId, day)
  if ('refused' in begun) throw new BadRequest(begun.refused, [{ path: 'list', message: begun.refused }])
  return begun.model
}
