import { apply, compose, ModelError, same, type Change, type Entity, type Id, type Model } from '../../core/model'
import {
  isRefusal,
  namedBy,
  withUnnamedGone,
  type Done,
  type Outcome,
  type Outline,
  type Refusal,
  type Wish,
} from '../../core/notation'
import { carryOut, goOn, make, unmake, wish } from '../store/changes'
import { naming } from '../store/naming'
import { useWorkspace } from '../store/state'
import { keepUnread } from './unread'

/** Somebody who does not type for so long has said what they meant, for now. */
const PAUSE_MS = 800
/** So many names are known that lines have made, the last of them. */
const MOST_NAMED = 500

/** What is typed into a line and waits for a pause, since it names what nobody has stated yet. */
interface Waiting {
  readonly outline: Outline
  readonly text: string
  readonly timer: ReturnType<typeof setTimeout>
}

/** A line that somebody is in: what is typed next is said instead of what was typed before, on the facts from before both. */
interface Visit {
  readonly view: Id | undefined
  /** The line as it was entered, and as it is now: saying something else may make it another one. */
  readonly line: Id
  readonly now: Id
  /** What was stated since: what takes it back, and the facts before and after it. */
  readonly since: { readonly back: Change; readonly before: Model; readonly after: Model } | undefined
  /** What it named anew, as it stands. */
  readonly names: readonly Entity[]
  /** What could be taken back when this was written: another change since, and it is another visit. */
  readonly last: unknown
}

let waiting: Waiting | undefined
let visit: Visit | undefined
let named: ReadonlyMap<Id, Entity> = new Map()
/** A line that has been added and not been typed into. */
let blank: { readonly line: Id; readonly made: Change } | undefined

if (typeof window !== 'undefined') addEventListener('pagehide', () => void settle())

const lastDone = () => useWorkspace.getState().undoable.at(-1)

function visitOf(line: Id): Visit {
  const { viewId } = useWorkspace.getState()
  if (visit?.now === line && visit.view === viewId && visit.last === lastDone()) return visit
  return { view: viewId, line, now: line, since: undefined, names: [], last: lastDone() }
}

/** A change to be made for what a line says, and how what it does is taken back once it is made. */
interface Statement {
  readonly done: Done
  readonly names: readonly Entity[]
  /** The facts from before the visit. */
  readonly before: Model
  /** It is said on those, instead of what this takes back; without that on the facts of now. */
  readonly back?: Change
}

/** What a text states in a visited line. */
function statementOf(
  outline: Outline,
  asked: Wish,
  { line, now, since, names }: Visit,
  text: string,
): Statement | Refusal {
  const before = since && undone(asked, since)
  if (!before) {
    const done = outline.write(asked, now, text)
    return isRefusal(done) ? done : { done, names: namedBy(done, now), before: asked.model }
  }
  const instead = outline.write(before, line, text)
  if (isRefusal(instead)) return instead
  const meant = namedBy(instead, line)
  if (names.length > 0 && sameNames(meant, names)) {
    // Whoever it named is named still, and is not made anew.
    const done = outline.write(asked, now, text)
    if (!isRefusal(done) && namedBy(done, now).length === 0) return { done, names, before: before.model }
  }
  return { done: instead, names: meant, before: before.model, back: since.back }
}

/** A wish about the facts from before a visit; undefined where others have built on what it stated. */
function undone(asked: Wish, { back, before, after }: NonNullable<Visit['since']>): Wish | undefined {
  try {
    // Where nothing else has changed they are those that they were, and what is known of them is known.
    const model = asked.model === after ? before : apply(asked.model, back).model
    return { ...asked, model, view: model.views.get(asked.view.id) ?? asked.view }
  } catch (error) {
    if (!(error instanceof ModelError)) throw error
    return undefined
  }
}

const sameNames = (some: readonly Entity[], others: readonly Entity[]): boolean => {
  const [first, second] = [some, others].map((list) => list.map(({ kind, name }) => `${kind} ${name}`).sort())
  return same(first, second)
}

/**
 * Takes what is typed into a line: stated at once where it names only what is there, else in a pause. What cannot be read stays as it was typed, with the reason.
 * Answers the line that says it now; where it becomes another one in a pause, that is told.
 */
export function typeLine(outline: Outline, line: Id, text: string, moved: (now: Id) => void): Id {
  drop()
  if (blank?.line === line) blank = undefined
  const asked = wish()
  if (!asked) return line
  visit = visitOf(line)
  const statement = statementOf(outline, asked, visit, text)
  if ('refused' in statement) {
    keepUnread(line, { text, why: statement.refused })
    return line
  }
  keepUnread(line, undefined)
  const known = visit.names
  if (statement.names.every((one) => known.some((other) => sameNames([one], [other]))))
    return state(statement, asked, visit)
  const pause = () => {
    const now = settle()
    if (now !== undefined && now !== line) moved(now)
  }
  waiting = { outline, text, timer: setTimeout(pause, PAUSE_MS) }
  return line
}

function drop(): void {
  clearTimeout(waiting?.timer)
  waiting = undefined
}

/** States what waits now. Answers the line that says it, if any waited. */
export function settle(): Id | undefined {
  if (!waiting || !visit) return undefined
  const { outline, text } = waiting
  drop()
  const { model } = useWorkspace.getState()
  const there = visit.view === undefined ? undefined : model.views.get(visit.view)
  const asked = there && wish({ view: there })
  if (!asked) return undefined
  const statement = statementOf(outline, asked, visit, text)
  if (!('refused' in statement)) return state(statement, asked, visit)
  keepUnread(visit.now, { text, why: statement.refused })
  return visit.now
}

/** Whoever leaves a line has said what they meant: what they type there next is said on top of it. */
export function leaveLine(): void {
  settle()
  const steps = visit?.since ? naming(useWorkspace.getState().model) : []
  if (visit && steps.length > 0) {
    const key = `line ${visit.line}`
    goOn(key)
    make({ label: 'Call the view after what it shows', steps }, key)
  }
  visit = undefined
}

function state({ done, names, before, back }: Statement, { model }: Wish, at: Visit): Id {
  const ground = back ? before : model
  const stated = withUnnamedGone(ground, done.change, named)
  const change = back ? { ...stated, steps: [...back.steps, ...stated.steps] } : stated
  const key = `line ${at.line}`
  // A pause in the middle of a name is no step of its own.
  if (at.names.length > 0) goOn(key)
  if (!carryOut({ ...done, change }, key)) return at.now
  note(names)
  const { inverse } = apply(ground, stated)
  const since = {
    back: back || !at.since ? inverse : compose(inverse, at.since.back),
    before,
    after: useWorkspace.getState().model,
  }
  const now = done.select ?? (back ? at.line : at.now)
  visit = { ...at, now, since, names, last: lastDone() }
  return now
}

function note(made: readonly Entity[]): void {
  if (made.length === 0) return
  named = new Map([...named, ...made.map((one) => [one.id, one] as const)].slice(-MOST_NAMED))
}

/** Notes what a list that is added makes beside its lines. */
export function noteNamed(outline: Outline, outcome: Outcome): void {
  const made = isRefusal(outcome) ? [] : namedBy(outcome, undefined)
  const asked = wish()
  if (made.length === 0 || !asked) return
  const lines = new Set(outline.lines(asked.model, asked.view, asked.day).map(({ id }) => id))
  note(made.filter(({ id }) => !lines.has(id)))
}

/** Notes a line that was added and says nothing yet. */
export function noteBlank(line: Id, made: Change): void {
  blank = { line, made }
}

/** Takes a line away again that was added and left without a word. Answers whether it was one. */
export function leaveBlank(outline: Outline, line: Id): boolean {
  if (blank?.line !== line) return false
  const { made } = blank
  blank = undefined
  if (unmake(made)) return true
  const asked = wish()
  return asked !== undefined && carryOut(outline.remove(asked, line))
}

/** A line that was added is wanted, although nothing was typed into it. */
export const keepBlank = (): void => void (blank = undefined)
