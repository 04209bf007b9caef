import { randomUUID } from 'node:crypto'
import { photosIn, readWorkspace, type Photos } from '../../core/file'
import { apply, asId, Model, writable, type Day, type Id } from '../../core/model'
import { isRefusal } from '../../core/notation'
import { registry } from '../../core/notations'
import { BadRequest, NotFound } from '../services/errors'

/** Facts for a new workspace. */
export interface Beginning {
  readonly name?: string | undefined
  readonly file?: object | undefined
  readonly starter?: string | undefined
  readonly list?: string | undefined
}

/** @throws FileError, BadRequest, NotFound: each in words. */
export function beginWith({ name, file, starter, list }: Beginning, day: Day): { model: Model; pictures: Photos } {
  const model = file ? readWorkspace(file, registry) : starter ? fromStarter(starter, day) : fromList(list ?? '', day)
  return { model: name === undefined ? model : model.with({ name }), pictures: photosIn(file) }
}

const newId = (): Id => asId(randomUUID())

function fromStarter(path: string, day: Day): Model {
  const [notation, id] = path.split('/')
  const starter = registry.notations.find((one) => one.id === notation)?.starters.find((one) => one.id === id)
  if (!starter) throw new NotFound(`There is no starter “${path}”.`)
  return starter.make(newId, day)
}

/** A typed list begins as the first notation that has an outline. */
function fromList(typed: string, day: Day): Model {
  const list = writable(typed)
  const notation = registry.notations.find(({ outline }) => outline)
  if (!notation?.outline) throw new NotFound('No notation takes a list.')
  const view = notation.view(newId, 'Everyone')
  const empty = Model.of({ name: 'New workspace', views: [view] })
  if (list.trim() === '') return empty
  const outcome = notation.outline.paste({ model: empty, view, day, selection: [], newId }, undefined, list)
  if (isRefusal(outcome)) throw new BadRequest(outcome.refused, [{ path: 'list', message: outcome.refused }])
  return apply(empty, outcome.change).model
}
