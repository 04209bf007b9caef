import { asDay, type Day } from '../../core/model'
import { OURSELVES } from '../threads/asking'
import { carryOut } from '../threads/crew'
import type { FirstPicture, Samples } from '../threads/tasks'
import { NotFound, TooLong } from './errors'
import type { Store } from './store'
import { loadWorkspace } from './workspaces'

/** The sheet of a page of 1280 × 800 px, beside contents and margin and above the registers. */
const SHEET = { width: 782, height: 465 }
/** A larger picture would take longer to be sent than to be drawn by the page. */
const MOST_FACTS = 2000
/** A page waits no longer for its first picture: it draws it by itself all the same. */
const PATIENCE_MS = 400

const pause = (ms: number) => new Promise<undefined>((resolve) => setTimeout(() => resolve(undefined), ms).unref())
const today = (): Day => asDay(new Date().toISOString().slice(0, 10))

/** What a workspace's page shows until it is live; nothing where that is not there in time. Never throws: the page says what is wrong. */
export async function firstPicture(
  store: Store,
  id: string,
): Promise<(FirstPicture & { readonly name: string }) | undefined> {
  if (!/^[\w.:~-]{1,64}$/.test(id)) return undefined
  const draw = async () => {
    const snapshot = await loadWorkspace(store, id)
    const { model } = snapshot
    if (model.entities.size > MOST_FACTS) return undefined
    const first = await carryOut('first', { day: today(), size: SHEET }, snapshot)
    return first && { ...first, name: model.name }
  }
  return Promise.race([draw().catch(withoutPicture), pause(PATIENCE_MS)])
}

/** The page finds out by itself that a workspace or the database is not there, and says so. */
function withoutPicture(error: unknown): undefined {
  if (!(error instanceof NotFound || error instanceof TooLong)) console.error('A first picture was not drawn:', error)
  return undefined
}

export const EXAMPLE = `Wilma Thorne — Harbour master
  Idris Vance — Assistant (assistant)
  Maren Foss — Quay lead
    Oskar Lind — Crane operator
    vacant — Linesman
  Petra Dale — Office lead
    Sunniva Hart — Clerk`

/** A thread that has just begun needs a moment. */
const SAMPLES_MS = 6000
let drawing: Promise<unknown> | undefined
let drawn: { readonly day: Day; readonly samples: Samples } | undefined

/** So many starters of each chapter are shown before anybody has looked for one: the others are drawn when they are. */
const FIRST_OF_CHAPTER = 2

/** What the first page is sent with: all starters, of which the first of each chapter are drawn. */
export async function firstSamples(): Promise<FirstSamples> {
  const { starters, ...rest } = await samples()
  const count = new Map<string, number>()
  return {
    ...rest,
    starters: starters.map(({ svg, ...told }) => {
      const [notation = ''] = told.path.split('/')
      const at = (count.get(notation) ?? 0) + 1
      count.set(notation, at)
      return at <= FIRST_OF_CHAPTER ? { ...told, svg } : told
    }),
  }
}

type FirstSamples = Omit<Samples, 'starters'> & {
  readonly starters: readonly (Omit<Samples['starters'][number], 'svg'> & { readonly svg?: string })[]
}

/** The starters and the example list, drawn; remembered for the day. Without them the first page works all the same. */
export async function samples(): Promise<Samples> {
  const day = today()
  if (drawn?.day !== day) {
    drawing ??= carryOut('samples', { day, example: EXAMPLE }, undefined, { who: OURSELVES })
      .then((found) => (drawn = { day, samples: found }))
      .catch((error: unknown) => void console.error('The starters were not drawn:', error))
      .finally(() => (drawing = undefined))
    await Promise.race([drawing, pause(SAMPLES_MS)])
  }
  return drawn?.samples ?? { starters: [], example: '', ways: [] }
}
