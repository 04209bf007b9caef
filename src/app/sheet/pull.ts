import { useRef, useState } from 'react'
import { wordsOf, type Id } from '../../core/model'
import { isRefusal, type Done, type Outcome, type Pull, type Wish } from '../../core/notation'
import { factOf, type Box, type Handle, type Item, type Point } from '../../core/scene'
import { errorsOf, nudgedBy, pulledBy } from '../store/asking'
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

/** What is asked of one pull, and what is known of it: of what is asked while an answer is on its way only the newest. */
interface Course {
  next?: { readonly pull: Pull; readonly wish: Wish } | undefined
  asking?: Promise<void> | undefined
  judged?: Judged | string | undefined
}

/** What the worker answers to a question, or why it cannot. */
const answered = async (question: Promise<Outcome | undefined>): Promise<Outcome | undefined> => {
  try {
    return await question
  } catch (error) {
    return { refused: wordsOf(error) }
  }
}

/** Pulling a handle of an item: what would come of it is said and shown while pulling, and made on letting go. */
export function usePull() {
  const [pulling, show] = useState<Pulling>()
  const held = useRef<Pulling | undefined>(undefined)
  const course = useRef<Course | undefined>(undefined)
  const waiting = useRef<ReturnType<typeof setTimeout> | undefined>(undefined)
  const nudged = useRef(Promise.resolve())

  const hold = (next: Pulling | undefined) => {
    held.current = next
    show(next)
  }
  /** Says what would come of a pull that is still under way. */
  const say = (own: Course, verdict: Verdict | undefined, ghosts: readonly Box[]) => {
    if (course.current === own && held.current) hold({ ...held.current, verdict, ghosts })
  }

  async function follow(own: Course): Promise<void> {
    while (own.next) {
      const { pull, wish: asked } = own.next
      own.next = undefined
      take(own, await answered(pulledBy(pull, asked)))
    }
    own.asking = undefined
  }

  function take(own: Course, outcome: Outcome | undefined): void {
    if (!outcome || (!isRefusal(outcome) && outcome.change.steps.length === 0)) {
      own.judged = undefined
      return say(own, undefined, [])
    }
    if (isRefusal(outcome)) {
      own.judged = outcome.refused
      return say(own, { sort: 'no', words: outcome.refused }, [])
    }
    const { along, ghosts = [], change } = outcome
    const before = own.judged
    const isSame = typeof before === 'object' && before.label === change.label
    const now: Judged = isSame ? before : { label: change.label, done: outcome }
    if (!isSame && course.current === own) {
      clearTimeout(waiting.current)
      waiting.current = setTimeout(() => void look(own, now), LOOK_AFTER_MS)
    }
    own.judged = now
    const { error } = now
    say(
      own,
      error ? { sort: 'no', words: error } : { sort: 'yes', words: now.label, ...(along ? { along } : {}) },
      ghosts,
    )
  }

  async function look(own: Course, now: Judged): Promise<void> {
    const error = await firstError(now.done)
    if (own.judged !== now) return
    own.judged = { ...now, error }
    if (error !== null) say(own, { sort: 'no', words: error }, held.current?.ghosts ?? [])
  }

  async function nudge(item: Item, part: 'item' | 'end', towards: -1 | 1): Promise<void> {
    const handle = handleOf(item, part)
    const asked = wish({ selection: [factOf(item)] })
    if (!handle || !asked) return
    const pull = { handle: handle.id, box: item.box, from: middleOf(item, handle), towards }
    const outcome = await answered(nudgedBy(pull, asked))
    if (!outcome) return notify('It cannot be moved any further.', 'refusal')
    if (isRefusal(outcome)) return notify(outcome.refused, 'refusal')
    const error = await firstError(outcome)
    if (error !== null) return notify(error, 'refusal')
    carryOut(outcome)
    notify([outcome.change.label, ...(outcome.along ?? [])].join('. '))
  }

  return {
    pulling,
    begin(item: Item, handle: Handle, from: Point, screen: Point): void {
      course.current = {}
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
      const own = course.current
      if (!now || !own) return
      const target = over === now.fact ? undefined : over
      hold({ ...now, at, screen, target })
      const by = { x: at.x - now.from.x, y: at.y - now.from.y }
      const asked = wish({ selection: [now.fact], ...(target === undefined ? {} : { target }) })
      if (!asked) return
      own.next = { pull: { handle: now.handle.id, by, at, box: now.box }, wish: asked }
      own.asking ??= follow(own)
    },
    async drop(): Promise<void> {
      clearTimeout(waiting.current)
      const own = course.current
      course.current = undefined
      hold(undefined)
      // What it came to where it was let go of may still be on its way.
      await own?.asking
      const last = own?.judged
      if (last === undefined) return
      if (typeof last === 'string') return notify(last, 'refusal')
      const error = last.error === undefined ? await firstError(last.done) : last.error
      if (error === null) carryOut(last.done)
      else notify(error, 'refusal')
    },
    /** Pulls by a key: the item itself, or its later end, as little as changes anything. What comes of it is said. One after the other. */
    nudge(item: Item, part: 'item' | 'end', towards: -1 | 1): void {
      nudged.current = nudged.current
        .then(() => nudge(item, part, towards))
        .catch((error: unknown) => notify(wordsOf(error), 'refusal'))
    },
    cancel(): void {
      clearTimeout(waiting.current)
      course.current = undefined
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
