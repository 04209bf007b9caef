import { useRef, useState } from 'react'
import type { Id } from '../../core/model'
import { isRefusal, type Done, type Gestures, type Outcome, type Pull } from '../../core/notation'
import { factOf, type Box, type Handle, type Item, type Point } from '../../core/scene'
import { errorsOf } from '../store/asking'
import { carryOut, wish } from '../store/changes'
import { notify } from '../store/state'
import type { Verdict } from './drag'

export interface Pulling {
  readonly fact: Id
  readonly box: Box
  readonly handle: Handle
  /** Where it was taken, and where it is now, in the scene. */
  readonly from: Point
  readonly at: Point
  /** The pointer on the screen. */
  readonly screen: Point
  readonly target: Id | undefined
  readonly verdict: Verdict | undefined
  readonly ghosts: readonly Box[]
}

interface Judged {
  readonly label: string
  readonly done: Done
  /** The first error that it would add, in words; undefined while it is looked for, null where there is none. */
  readonly error?: string | null
}

/** How long a pull has to stay the same before its errors are looked for. */
const LOOK_AFTER_MS = 90

const firstError = async (done: Done): Promise<string | null> => (await errorsOf(done.change))[0]?.message ?? null

/** Pulling a handle of an item: what would come of it is said and shown while pulling, and made on letting go. */
export function usePull(picture: Gestures | undefined) {
  const [pulling, show] = useState<Pulling>()
  const held = useRef<Pulling | undefined>(undefined)
  const judged = useRef<Judged | string | undefined>(undefined)
  const waiting = useRef<ReturnType<typeof setTimeout> | undefined>(undefined)

  const hold = (next: Pulling | undefined) => {
    held.current = next
    show(next)
  }

  function judge(fact: Id, pull: Pull, target: Id | undefined): Pick<Pulling, 'verdict' | 'ghosts'> {
    const asked = wish({ selection: [fact], ...(target === undefined ? {} : { target }) })
    const outcome = asked && picture?.pull?.(asked, pull)
    if (!outcome || (!isRefusal(outcome) && outcome.change.steps.length === 0)) {
      judged.current = undefined
      return { verdict: undefined, ghosts: [] }
    }
    if (isRefusal(outcome)) {
      judged.current = outcome.refused
      return { verdict: { sort: 'no', words: outcome.refused }, ghosts: [] }
    }
    const { along, ghosts = [], change } = outcome
    const before = judged.current
    if (typeof before === 'object' && before.label === change.label) return said(before, along, ghosts)
    const now = { label: change.label, done: outcome }
    judged.current = now
    clearTimeout(waiting.current)
    waiting.current = setTimeout(() => void look(now), LOOK_AFTER_MS)
    return said(now, along, ghosts)
  }

  const said = (
    { label, error }: Judged,
    along: readonly string[] | undefined,
    ghosts: readonly Box[],
  ): Pick<Pulling, 'verdict' | 'ghosts'> => ({
    verdict: error ? { sort: 'no', words: error } : { sort: 'yes', words: label, ...(along ? { along } : {}) },
    ghosts,
  })

  async function look(now: Judged): Promise<void> {
    const error = await firstError(now.done)
    if (judged.current !== now) return
    judged.current = { ...now, error }
    if (error !== null && held.current) hold({ ...held.current, verdict: { sort: 'no', words: error } })
  }

  return {
    pulling,
    begin(item: Item, handle: Handle, from: Point, screen: Point): void {
      judged.current = undefined
      hold({
        fact: factOf(item),
        box: item.box,
        handle,
        from,
        at: from,
        screen,
        target: undefined,
        verdict: undefined,
        ghosts: [],
      })
    },
    move(at: Point, screen: Point, over: Id | undefined): void {
      const now = held.current
      if (!now) return
      const target = over === now.fact ? undefined : over
      const by = { x: at.x - now.from.x, y: at.y - now.from.y }
      hold({ ...now, ...judge(now.fact, { handle: now.handle.id, by, at, box: now.box }, target), at, screen, target })
    },
    async drop(): Promise<void> {
      clearTimeout(waiting.current)
      const last = judged.current
      judged.current = undefined
      hold(undefined)
      if (last === undefined) return
      if (typeof last === 'string') return notify(last, 'refusal')
      const error = last.error === undefined ? await firstError(last.done) : last.error
      if (error === null) carryOut(last.done)
      else notify(error, 'refusal')
    },
    /** Pulls by a key: the item itself, or its later end, as little as changes anything. What comes of it is said. */
    async nudge(item: Item, part: 'item' | 'end', towards: -1 | 1): Promise<void> {
      const handle = handleOf(item, part)
      const asked = wish({ selection: [factOf(item)] })
      if (!handle || !asked || !picture?.pull) return
      const { pull } = picture
      const pulled = (px: number): Outcome => {
        const by = { x: px * towards, y: 0 }
        const at = { x: middleOf(item, handle).x + by.x, y: middleOf(item, handle).y }
        return pull(asked, { handle: handle.id, by, at, box: item.box })
      }
      const outcome = leastThatChanges(pulled)
      if (!outcome) return notify('It cannot be moved any further.', 'refusal')
      if (isRefusal(outcome)) return notify(outcome.refused, 'refusal')
      const error = await firstError(outcome)
      if (error !== null) return notify(error, 'refusal')
      carryOut(outcome)
      notify([outcome.change.label, ...(outcome.along ?? [])].join('. '))
    },
    cancel(): void {
      clearTimeout(waiting.current)
      judged.current = undefined
      hold(undefined)
    },
  }
}

/** What moves the item as a whole is its widest handle along the picture; its later end has the one farthest to the right. */
function handleOf({ handles = [] }: Item, part: 'item' | 'end'): Handle | undefined {
  const along = handles.filter(({ pulls }) => pulls === 'along' || pulls === 'freely')
  const whole = along.toSorted((a, b) => b.box.width - a.box.width)[0]
  if (part === 'item') return whole
  const rightOf = ({ box }: Handle) => box.x + box.width
  return along.filter((one) => one !== whole).toSorted((a, b) => rightOf(b) - rightOf(a))[0]
}

const middleOf = ({ box }: Item, handle: Handle): Point => ({
  x: box.x + handle.box.x + handle.box.width / 2,
  y: box.y + handle.box.y + handle.box.height / 2,
})

const FARTHEST_PX = 4096

/** The outcome of the shortest pull that changes anything, found by doubling and halving. */
function leastThatChanges(pulled: (px: number) => Outcome): Outcome | undefined {
  const changeAt = (px: number): Outcome | undefined => {
    const outcome = pulled(px)
    return isRefusal(outcome) || outcome.change.steps.length > 0 ? outcome : undefined
  }
  let far = 1
  let least = changeAt(far)
  while (!least && far < FARTHEST_PX) least = changeAt((far *= 2))
  for (let near = far / 2; least && far - near > 0.5;) {
    const middle = (near + far) / 2
    const nearer = changeAt(middle)
    if (nearer) [far, least] = [middle, nearer]
    else near = middle
  }
  return least
}
