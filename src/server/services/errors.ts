import type { Fault } from '../../core/file'

/** Something asked for that is not there. */
export class NotFound extends Error {}

/** A system outside that does not answer, or not as agreed. */
export class Unreachable extends Error {}

/** Work that was stopped because it took too long, or more than there is room for. Nothing else is affected. */
export class TooLong extends Error {}

/** More at once than is taken from one place. */
export class TooMany extends Error {}

/** A request that makes no sense, with the path of each fault. */
export class BadRequest extends Error {
  constructor(
    message: string,
    readonly faults: readonly Fault[] = [],
  ) {
    super(message)
  }
}

/** Two changes of the same facts: both sides, so that the person can choose. */
export class Clash extends Error {
  constructor(
    message: string,
    readonly sides: {
      readonly ours: string
      readonly theirs: readonly { readonly label: string; readonly author: string; readonly at: string }[]
      /** The facts in question, as paths such as `entity/p1/name`. */
      readonly facts: readonly string[]
      readonly revision: number
    },
  ) {
    super(message)
  }
}
