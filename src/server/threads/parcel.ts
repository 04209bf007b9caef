import { Model, type Entity, type Relation, type Settings, type View } from '../../core/model'
import { FileError, type Fault } from '../../core/file'
import { BadRequest, NotFound, Unreachable } from '../services/errors'

/** A model as it travels between threads: its order is kept, and it is not checked again. */
export interface Parcel {
  readonly name: string
  readonly settings: Settings
  readonly entities: readonly Entity[]
  readonly relations: readonly Relation[]
  readonly views: readonly View[]
}

export const packed = ({ name, settings, entities, relations, views }: Model): Parcel => ({
  name,
  settings,
  entities: [...entities.values()],
  relations: [...relations.values()],
  views: [...views.values()],
})
export const unpacked = (parcel: Parcel): Model => Model.of(parcel)

/** What a thread is asked to do. The facts travel along only where it does not know them yet. */
export interface Job {
  readonly task: string
  readonly wish: unknown
  readonly facts?: { readonly key: string; readonly parcel?: Parcel }
}

/** An error as it travels: those that have words for whoever asked keep them. */
export interface Failure {
  readonly sort: 'file' | 'bad-request' | 'not-found' | 'unreachable' | 'failed'
  readonly message: string
  readonly faults: readonly Fault[]
}

export const failureOf = (error: unknown): Failure => ({
  sort:
    error instanceof FileError
      ? 'file'
      : error instanceof BadRequest
        ? 'bad-request'
        : error instanceof NotFound
          ? 'not-found'
          : error instanceof Unreachable
            ? 'unreachable'
            : 'failed',
  message: error instanceof Error ? `${error.message}` : String(error),
  faults: error instanceof FileError || error instanceof BadRequest ? error.faults : [],
})

export function errorOf({ sort, message, faults }: Failure): Error {
  if (sort === 'file') return new FileError(faults)
  if (sort === 'bad-request') return new BadRequest(message, faults)
  if (sort === 'not-found') return new NotFound(message)
  if (sort === 'unreachable') return new Unreachable(message)
  return new Error(message)
}

export type Reply = { readonly done: unknown } | { readonly failure: Failure }
