import type { Step } from '../../core/model'

/** What the server answered when it did not do as asked. */
export class ApiError extends Error {
  constructor(
    message: string,
    /** 0: no answer at all. */
    readonly status: number,
    readonly faults: readonly { readonly path: string; readonly message: string }[] = [],
    readonly sides?: Sides,
    readonly code = '',
  ) {
    super(message)
  }
  /** The server has read it and refused it: it was not done, and will not be. */
  get isJudged(): boolean {
    return this.status >= 400 && this.status < 500 && this.status !== 429
  }
  /** What is known here was lost there. */
  get isAstray(): boolean {
    return this.code === 'astray'
  }
  /** Worth another try later: nobody answered, or what failed is the server's and not the request's. */
  get passing(): boolean {
    return this.status === 0 || this.status === 429 || this.status >= 500
  }
}

export interface Sides {
  readonly ours: string
  readonly theirs: readonly { readonly label: string; readonly author: string; readonly at: string }[]
  readonly facts: readonly string[]
  readonly revision: number
}

export interface SharedChange {
  readonly revision: number
  /** The mark of the state that it led to; a state of the same revision that came about otherwise has another one. */
  readonly lineage: string
  readonly id: string
  readonly label: string
  readonly author: string
  readonly at: string
  readonly steps: readonly Step[]
}

export interface LoadedWorkspace {
  readonly id: string
  readonly revision: number
  readonly lineage: string
  readonly workspace: unknown
}

/** Asks the server for JSON; a body that is a text is JSON already. @throws ApiError in words a person can act on. */
export function ask<T>(
  path: string,
  {
    method = 'GET',
    body,
    headers = {},
  }: { method?: string; body?: unknown; headers?: Readonly<Record<string, string>> } = {},
): Promise<T> {
  const json =
    body === undefined
      ? { headers }
      : {
          body: typeof body === 'string' ? body : JSON.stringify(body),
          headers: { 'content-type': 'application/json', ...headers },
        }
  return answered<T>(path, { method, ...json })
}

/** Sends a file as it is. @throws ApiError */
export const sendBytes = <T>(path: string, file: Blob): Promise<T> =>
  answered<T>(path, {
    method: 'POST',
    body: file,
    headers: { 'content-type': file.type || 'application/octet-stream' },
  })

/** Asks the server for a file; with letters that its fonts do not have. @throws ApiError */
export async function fetchFile(path: string): Promise<{ readonly file: Blob; readonly missing: string }> {
  let response: Response
  try {
    response = await fetch(path)
  } catch (error) {
    if (!(error instanceof TypeError)) throw error
    throw new ApiError('The server does not answer.', 0)
  }
  if (response.ok)
    return {
      file: await response.blob(),
      missing: decodeURIComponent(response.headers.get('x-missing-letters') ?? ''),
    }
  const text = await response.text()
  const { error } = (text.startsWith('{') ? JSON.parse(text) : {}) as { error?: { message?: string } }
  throw new ApiError(error?.message ?? `The server answered ${response.status}.`, response.status)
}

async function answered<T>(path: string, init: RequestInit): Promise<T> {
  let response: Response
  try {
    response = await fetch(path, init)
  } catch (error) {
    if (!(error instanceof TypeError)) throw error
    throw new ApiError('The server does not answer.', 0)
  }
  const text = await response.text()
  const answer: unknown = text.startsWith('{') ? JSON.parse(text) : undefined
  if (response.ok && answer !== undefined) return answer as T
  const { error } = (answer ?? {}) as {
    error?: { message?: string; code?: string; faults?: ApiError['faults']; sides?: Sides }
  }
  throw new ApiError(
    error?.message ?? `The server answered ${response.status}.`,
    response.status,
    error?.faults,
    error?.sides,
    error?.code,
  )
}
