import { create } from 'zustand'
import { useWorkspace } from './state'

/** What stands around the sheet, and can be folded to its edge. */
export const EDGES = ['contents', 'registers', 'margin', 'dateline'] as const
export type Edge = (typeof EDGES)[number]

/** Where the page is too narrow for what stands around the picture, that lies over it, one part at a time, until it is folded again. */
const NARROW = '(width < 800px)'
/** Where it is too low as well, as on an enlarged page, the picture has all of it at first. */
const LOW = '(height < 560px)'
const isPage = typeof window !== 'undefined'
const isMatching = (query: string): boolean => isPage && window.matchMedia(query).matches
const atFirst = (): ReadonlySet<Edge> =>
  new Set<Edge>(['contents', 'margin', ...(isMatching(LOW) ? (['registers'] as const) : [])])

const OVERVIEW = 'skivel:overview-folded'

/** What is folded beside the view shown. It belongs to whoever looks, so it is kept in the browser. */
export const useFolds = create<{
  readonly folded: ReadonlySet<Edge>
  readonly isNarrow: boolean
  readonly overviewFolded: boolean
  /** Whether the margin shows fields of which nothing is stated, too: for every fact, as long as the page is open. */
  readonly showsAllFields: boolean
}>()(() => ({
  isNarrow: isMatching(NARROW),
  folded: isMatching(NARROW) ? atFirst() : new Set(),
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
  const { folded, isNarrow } = useFolds.getState()
  const isBeside = (one: Edge) => one === 'contents' || one === 'margin'
  const gives = (one: Edge) => isNarrow && !folds && isBeside(edge) && isBeside(one)
  keep(new Set(EDGES.filter((one) => (one === edge ? folds : folded.has(one) || gives(one)))))
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
  // What a narrow page folds is no wish.
  if (place === undefined || useFolds.getState().isNarrow) return
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
  useFolds.setState({ folded: foldedAt(place) })
})

function foldedAt(place: string | undefined): ReadonlySet<Edge> {
  if (useFolds.getState().isNarrow) return atFirst()
  const known: readonly unknown[] = [(place === undefined ? undefined : kept()[place]) ?? []].flat()
  return new Set(EDGES.filter((edge) => known.includes(edge)))
}

if (isPage)
  window.matchMedia(NARROW).addEventListener('change', ({ matches }) => {
    useFolds.setState({ isNarrow: matches })
    useFolds.setState({ folded: foldedAt(placeOf(useWorkspace.getState())) })
  })
