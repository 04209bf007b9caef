import type { SharedChange } from './api'

const AGAIN_MS = 1500

/** What is heard of a workspace while its page is open. */
interface Ears {
  readonly onChange: (change: SharedChange) => void
  /** So much has happened to the comments. */
  readonly onTalk: (talk: number) => void
  /** The server does not have the state that was listened from. */
  readonly onAstray: () => void
  /** The server is there, and its database is not, or is again. */
  readonly onTrouble: () => void
  readonly onWell: () => void
  readonly onOpen: () => void
  /** The line is cut. */
  readonly onCut: () => void
}

/** What a line begins behind: a revision, and the mark of that state. Asked for anew whenever it has to begin anew. */
export type Since = () => { readonly revision: number; readonly lineage: string }

/** Listens to a workspace (server-sent events, resumed by revision) until the answered function ends it. */
export function listenTo(workspace: string, since: Since, ears: Ears): () => void {
  let events: EventSource | undefined
  let again: ReturnType<typeof setTimeout> | undefined
  const begin = () => {
    const { revision, lineage } = since()
    const line = new EventSource(`/api/workspaces/${workspace}/events?since=${revision}&on=${lineage}`)
    const textOf = (event: Event) => (event as MessageEvent<string>).data
    events = line
    line.addEventListener('change', (event) => ears.onChange(JSON.parse(textOf(event)) as SharedChange))
    line.addEventListener('talk', (event) => ears.onTalk(Number(textOf(event))))
    line.addEventListener('astray', ears.onAstray)
    line.addEventListener('trouble', ears.onTrouble)
    line.addEventListener('well', ears.onWell)
    line.addEventListener('open', ears.onOpen)
    line.addEventListener('error', () => {
      ears.onCut()
      // Refused with a status, a browser does not try again by itself.
      if (line.readyState === EventSource.CLOSED) again = setTimeout(begin, AGAIN_MS)
    })
  }
  begin()
  return () => {
    events?.close()
    clearTimeout(again)
  }
}
