import type { Fault } from '../../core/file'

/** Something asked for that is not there. */
export class NotFound extends Error {}

/** A system outside that does not answer, or not as agreed. */
export class Unreachable extends Error {}

/** Work that was stopped because it took too long, or more than there is room for. Nothing else is affected. */
export class TooLong extends Error {}

/** More is asked for at once than there is room for: another time it will do. */
export class Overload extends TooLong {
  constructor(message = 'Too much is asked for at once. Please try again in a moment.') {
    super(message)
  }
}

/** Whoever asked does not wait for the answer any more. */
export class Gone extends TooLong {
  constructor() {
    super('Nobody waits for this any more.')
  }
}

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

/** Made on a state of the facts that the database does not have: it has lost it, or never had it. */
export class Astray extends Error {
  constructor() {
    super(
      'The facts that this was made on are not those of the server any more: its last changes were undone by a failure.',
    )
  }
}
