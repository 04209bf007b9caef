export function isPlain(address: string): boolean
export function askedFrom(
  request: {
    readonly socket: { readonly remoteAddress?: string | undefined }
    readonly headers: Readonly<Record<string, string | string[] | undefined>>
  },
  behindProxy: boolean,
): string
export function inTurns(atOnce: number): () => Promise<void>
