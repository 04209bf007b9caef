declare namespace App {
  interface Locals {
    /** Bytes of the answer that lie in this process because the reader has not taken them yet. */
    readonly unread?: () => number
    /** Where the request came from. */
    readonly address?: string
    /** Says that whoever asked has gone. */
    readonly left?: AbortSignal
  }
}
