import { create } from 'zustand'
import { useWorkspace } from './state'

/** What stands around the sheet, and can be folded to its edge. */
export const EDGES = ['contents', 'registers', 'margin', 'dateline'] as const
export type Edge = (typeof EDGES)[number]

const OVERVIEW = 'skivel:overview-folded'

/** What is folded beside the view shown. It belongs to whoever looks, so it is kept in the browser. */
export const useFolds = create<{
  readonly folded: ReadonlySet<Edge>
  readonly overviewFolded: boolean
  /** Whether the margin shows fields of which nothing is stated, too: for every fact, as long as the page is open. */
  readonly showsAllFields: boolean
}>()(() => ({
  folded: new Set(),
  overviewFolded: localStorage.getItem(OVERVIEW) !== null,
  showsAllFields: false,
}))

/** So many views are remembered, those that were folded last. */
const MOST_VIEWS = 200
const KEY = 'skivel:folds'
type Kept = Readonly<Record<string, readonly Edge[]>>

export const isFolded = (edge: Edge): boolean => useFolds.getState().folded.has(edge)

export function fold(edge: Edge, folds = !isFolded(edge)): void {
  if (folds === isFolded(edge)) return
  const { folded } = useFolds.getState()
  keep(new Set(EDGES.filter((one) => (one === edge ? folds : folded.has(one)))))
}

/** Gives the whole page to the sheet, or unfolds everything where it has the page already. */
export function foldAll(): void {
  keep(new Set(EDGES.every(isFolded) ? [] : EDGES))
}

/** The small picture in the sheet’s corner, folded for all views. */
export function foldOverview(overviewFolded: boolean): void {
  useFolds.setState({ overviewFolded })
  if (overviewFolded) localStorage.setItem(OVERVIEW, 'yes')
  else localStorage.removeItem(OVERVIEW)
}

function keep(folded: ReadonlySet<Edge>): void {
  useFolds.setState({ folded })
  const place = placeOf(useWorkspace.getState())
  if (place === undefined) return
  const others = Object.entries(kept()).filter(([one]) => one !== place)
  const all = folded.size === 0 ? others : [...others, [place, [...folded]] as const]
  localStorage.setItem(KEY, JSON.stringify(Object.fromEntries(all.slice(-MOST_VIEWS))))
}

/** Nothing, where what was kept cannot be read: then nothing is folded. */
function kept(): Kept {
  try {
    const known: unknown = JSON.parse(localStorage.getItem(KEY) ?? '{}')
    return typeof known === 'object' && known !== null ? (known as Kept) : {}
  } catch {
    return {}
  }
}

const placeOf = ({ id, viewId }: { id: string; viewId: string | undefined }) =>
  viewId === undefined ? undefined : `${id} ${viewId}`

useWorkspace.subscribe((now, before) => {
  const place = placeOf(now)
  if (place === undefined || place === placeOf(before)) return
  const known: readonly unknown[] = [kept()[place] ?? []].flat()
  useFolds.setState({ folded: new Set(EDGES.filter((edge) => known.includes(edge))) })
})
