import type { Fields, Id, Step } from '../../model'
import {
  changed,
  addEntity,
  clip,
  LIMITS,
  removeRelation,
  tie,
  type ListLine,
  type Outcome,
  type Wish,
} from '../../notation'
import { BESIDES, readBeside } from './besides'
import { flowStep, newLane, newNode } from './edits'
import { processes, UNNAMED } from './kinds'
import { processShown, type FlowNode, type Process } from './structure'
import { betweenKey, Telling } from './telling'
import { goTo, isJoin, isWay, readBranch, readNode, type Named, type TypedNode } from './words'

/** An end of the flow that waits for what comes next. */
interface Open {
  readonly node: Id
  readonly fields: Fields
}

/** Lines of a list as steps of the process shown, after one of them or in all; several open branches meet in a gateway of the sort that split them, whether it is written or not. O(lines + elements). */
export function pasted(wish: Wish, after: Id | undefined, lines: readonly ListLine[]): Outcome {
  const long = lines.slice(0, besidesAt(lines)).find(({ text }) => text.length > LIMITS.name)
  if (long)
    return {
      refused: `A line of ${long.text.length} characters is not taken; ${LIMITS.name} is the most. Nothing was changed.`,
    }
  const process = processShown(wish.model, wish.view, wish.day)
  const reading = new Reading(wish, process, lines, after === undefined ? undefined : process.nodes.get(after))
  return reading.outcome()
}

/** Where a list ends that says more besides: the place of that heading, or of its end. */
function besidesAt(lines: readonly ListLine[]): number {
  const at = lines.findIndex(({ depth, text }) => depth === 0 && text === BESIDES)
  return at < 0 ? lines.length : at
}

interface NumberedLine extends ListLine {
  readonly number: number
}

const isEvent = ({ kind, type }: TypedNode, which: string): boolean => kind === 'event' && type === which
const nothing = { lane: undefined, isApart: false, during: undefined }

class Reading {
  /** Each with its number; a step that stands behind the label of its branch becomes a line of its own. */
  private readonly lines: NumberedLine[]
  /** What the list says besides its lines. */
  private readonly besides: readonly ListLine[]
  readonly #made: ReturnType<typeof processes.forWish>
  readonly #steps: Step[]
  readonly #lanes: Map<string, Id>
  readonly #named: Map<string, Id>
  /** The element of each line. */
  readonly #atLine = new Map<number, Id>()
  readonly #jumps: { readonly from: readonly Open[]; readonly to: Named }[] = []
  readonly #during: { readonly event: Id; readonly during: NonNullable<TypedNode['during']> }[] = []
  #lane: Id | undefined
  #first: Id | undefined
  #order = 0

  constructor(
    private readonly wish: Wish,
    private readonly process: Process,
    lines: readonly ListLine[],
    private readonly host: FlowNode | undefined,
  ) {
    const end = besidesAt(lines)
    this.besides = lines.slice(end + 1)
    this.lines = lines.slice(0, end).map((line, at) => ({ ...line, number: at + 1 }))
    this.#made = processes.forWish(wish)
    this.#steps = [...this.#made.steps]
    this.#lanes = new Map(process.lanes.map(({ id, name }) => [name.toLowerCase(), id]))
    this.#named = new Map([...process.nodes.values()].map(({ entity }) => [entity.name.toLowerCase(), entity.id]))
    this.#lane = host?.lane
  }

  outcome(): Outcome {
    const { host, lines, process } = this
    const isFresh = host === undefined && process.nodes.size === 0
    const { open } = this.#sequence(0, 0, this.#begin(isFresh))
    const [on] = host?.out.length === 1 ? host.out : []
    if (on) this.#steps.push(removeRelation(on.id))
    // A list with an end is taken as it stands: what leads nowhere does so.
    const isEnded = lines.some(({ text }) => isEvent(readNode(text), 'end'))
    if (open.length > 0 && (on || (isFresh && !isEnded)))
      this.#connect(
        open.length > 1 ? this.#joined(open, 'exclusive') : open,
        on?.target ?? this.#make({ kind: 'event', type: 'end', name: UNNAMED, ...nothing }),
      )
    const missing = this.#tieUp()
    if (missing !== undefined) return { refused: `There is no step “${clip(missing)}” to go to. Nothing was changed.` }
    const unread = this.#tellBesides()
    if (unread !== undefined) return { refused: `${unread} Nothing was changed.` }
    const first = this.#first
    return changed(`Paste ${lines.at(-1)?.number ?? 0} lines`, this.#steps, {
      ...(first === undefined ? {} : { select: first }),
    })
  }

  /** A process that has nothing yet begins with a start, unless the list says otherwise. */
  #begin(isFresh: boolean): readonly Open[] {
    const begins = readNode(this.lines[0]?.text ?? '')
    if (isFresh && !isEvent(begins, 'start') && !begins.isApart && !begins.during) {
      if (begins.lane) this.#lane = this.#laneOf(begins.lane)
      return [{ node: this.#make({ kind: 'event', type: 'start', name: UNNAMED, ...nothing }), fields: {} }]
    }
    return this.host && this.host.out.length < 2 ? [{ node: this.host.id, fields: {} }] : []
  }

  /** Lines from `at` on that are at least as deep; answers where they end and what is still open. */
  #sequence(from: number, depth: number, begin: readonly Open[]): { at: number; open: readonly Open[] } {
    let [at, open, split] = [from, begin, 'exclusive']
    for (let line = this.lines[at]; line && line.depth >= depth; line = this.lines[at]) {
      const to = goTo(line.text)
      if (to) {
        this.#jumps.push({ from: open, to })
        open = []
        at++
        continue
      }
      const typed = readNode(line.text)
      if (typed.isApart || typed.during || isEvent(typed, 'start')) open = []
      if (open.length > 1 && !isJoin(line.text)) open = this.#joined(open, split)
      const node = this.#make(typed)
      at++
      this.#atLine.set(line.number, node)
      this.#connect(open, node)
      open = isEvent(typed, 'end') ? [] : [{ node, fields: {} }]
      const below = this.lines[at]
      const isSplit = typed.kind === 'gateway' || (below !== undefined && isWay(below.text))
      if (!below || below.depth <= line.depth || !isSplit) continue
      const branches = this.#branches(at, below.depth, node, typed.kind === 'gateway')
      ;[at, open] = [branches.at, branches.open]
      split = typed.kind !== 'gateway' || typed.type === 'event-based' ? 'exclusive' : typed.type
    }
    return { at, open }
  }

  #branches(from: number, depth: number, node: Id, ofGateway: boolean): { at: number; open: readonly Open[] } {
    let [at, number] = [from, 0]
    const open: Open[] = []
    for (let line = this.lines[at]; line && line.depth >= depth; line = this.lines[at]) {
      const read = readBranch(line.text, ofGateway)
      const { fields, to, first } =
        'refused' in read ? { fields: { label: line.text }, to: undefined, first: undefined } : read
      const start: Open = { node, fields: { ...fields, order: ++number } }
      at++
      if (first !== undefined) this.lines.splice(at, 0, { depth: line.depth + 1, text: first, number: line.number })
      if (to) this.#jumps.push({ from: [start], to })
      else {
        const inner = this.#sequence(at, depth + 1, [start])
        at = inner.at
        open.push(...inner.open)
      }
    }
    return { at, open }
  }

  #joined(open: readonly Open[], type: string): readonly Open[] {
    const join = this.#make({ kind: 'gateway', type, name: UNNAMED, ...nothing })
    this.#connect(open, join)
    return [{ node: join, fields: {} }]
  }

  #connect(open: readonly Open[], to: Id): void {
    for (const { node, fields } of open) this.#steps.push(flowStep(this.wish.newId(), node, to, fields))
  }

  #make(typed: TypedNode): Id {
    const { lane, kind, type, name, during } = typed
    if (lane !== undefined) this.#lane = lane === null ? undefined : this.#laneOf(lane)
    const made = newNode(this.wish, this.#made.id, kind, name, { type }, { lane: this.#lane }, this.#order++)
    this.#steps.push(...made.steps)
    if (name !== UNNAMED) this.#named.set(name.toLowerCase(), made.id)
    if (during) this.#during.push({ event: made.id, during })
    this.#first ??= made.id
    return made.id
  }

  #laneOf(name: string): Id {
    const known = this.#lanes.get(name.toLowerCase())
    if (known !== undefined) return known
    const lane = newLane(this.wish, this.#made.id, name, this.#lanes.size + 1)
    this.#lanes.set(name.toLowerCase(), lane.id)
    this.#steps.push(addEntity(lane))
    return lane.id
  }

  /** States what the list says besides; answers what cannot be read, in words. */
  #tellBesides(): string | undefined {
    const telling = new Telling(this.wish, this.#made.id, this.process, {
      lanes: this.#lanes,
      find: (ref) => this.#find(ref),
      flows: this.#flows(),
      made: this.#order,
    })
    for (const { text } of this.besides) {
      const read = readBeside(text)
      if (!read) return `“${clip(text)}” says nothing about a process that is understood here.`
      const missing = telling.tell(read)
      if (missing !== undefined) return `“${clip(text)}”: there is no ${missing}.`
    }
    this.#steps.push(...telling.steps)
    return undefined
  }

  /** The ways of the process and those that were made, by their ends. */
  #flows(): Map<string, Id> {
    const made = this.#steps.flatMap((step) => (step.do === 'add-relation' ? [step.relation] : []))
    const flows = [...this.process.flows, ...made].filter(({ kind }) => kind === 'flow')
    return new Map(flows.map(({ id, source, target }) => [betweenKey(source, target), id]))
  }

  #find(named: Named): Id | undefined {
    return 'line' in named ? this.#atLine.get(named.line) : this.#named.get(named.name.toLowerCase())
  }

  /** Leads to what was named before it was there; answers a name that nothing has. */
  #tieUp(): string | undefined {
    for (const { from, to } of this.#jumps) {
      const target = this.#find(to)
      if (target === undefined) return wordsOf(to)
      this.#connect(from, target)
    }
    for (const { event, during } of this.#during) {
      const step = this.#find(during.step)
      if (step === undefined) return wordsOf(during.step)
      this.#steps.push(tie(this.wish.newId(), 'attached-to', event, step, during.goesOn ? { goesOn: true } : {}))
    }
    return undefined
  }
}

const wordsOf = (named: Named): string => ('line' in named ? `line ${named.line}` : named.name)
