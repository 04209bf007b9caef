import type { Offer, OfferedRule } from '../core/notation'
import { currentView, useWorkspace } from './store/state'

const NOTHING: Offer = { numbers: [], imports: [], files: [], exports: [], starters: [], trials: [] }

/** What the notation of the view shown counts, takes and writes; nothing until the thread that does it has told. */
export const useOffer = (): Offer =>
  useWorkspace((state) => state.offers?.notations[currentView(state)?.notation ?? ''] ?? NOTHING)

/** A rule, as the thread that runs it tells of it. */
export const useRule = (id: string): OfferedRule | undefined => useWorkspace(({ offers }) => offers?.rules[id])
