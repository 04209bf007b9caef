import type { Fields, Id, Step } from '../../model'
import { addEntity, calledKey, setEntity, setRelation, tie, type Wish } from '../../notation'
import type { Beside, MessageEnd, Ref } from './besides'
import { newNode } from './edits'
import type { Process } from './structure'

/** Two ends of a way as a key. */
export const betweenKey = (source: Id, target: Id): string => `${source} ${target}`

/** Steps that state what a list says of a process besides its lines. Pools, phases and lanes are those of the process, made where there are none of that name. */
export class Telling {
  readonly steps: Step[] = []
  readonly #pools: Map<string, Id>
  readonly #phases: Map<string, Id>
  /** Facts of other chapters by kind and name, once they were asked for. */
  readonly #facts = new Map<string, Map<string, Id>>()
  #later: number

  constructor(
    private readonly wish: Wish,
    private readonly process: Id,
    known: Process,
    private readonly lines: {
      /** Lanes by their names in small letters, those that the lines have made among them. */
      readonly lanes: Map<string, Id>
      readonly find: (ref: Ref) => Id | undefined
      /** Ways by their ends, as `betweenKey` has them. */
      readonly flows: ReadonlyMap<string, Id>
      /** How many elements the lines have made. */
      readonly made: number
    },
  ) {
    this.#later = lines.made
    const byName = (list: Process['pools']) => new Map(list.map(({ id, name }) => [name.toLowerCase(), id]))
    this.#pools = byName(known.pools)
    this.#phases = byName(known.phases)
  }

  /** States it; answers what it names and nothing is, in words. */
  tell(said: Beside): string | undefined {
    const missing = (ref: Ref) => ('line' in ref ? `line ${ref.line} with an element` : `element “${ref.name}”`)
    const [lost] = elementsIn(said).filter((ref) => this.lines.find(ref) === undefined)
    if (lost) return missing(lost)
    switch (said.of) {
      case 'process':
        this.#set(this.process, {
          ...said.fields,
          ...(said.owner === undefined ? {} : { owner: this.#fact(said.owner.kind, said.owner.name) }),
        })
        return undefined
      case 'pool': {
        const pool = this.#area('pool', this.#pools, said.name)
        for (const lane of said.lanes) this.#set(this.#area('lane', this.lines.lanes, lane), { pool })
        return undefined
      }
      case 'lanes':
        said.names.forEach((name, at) => this.#set(this.#area('lane', this.lines.lanes, name), { order: at + 1 }))
        return undefined
      case 'lane':
        this.#set(this.#area('lane', this.lines.lanes, said.name), { of: this.#fact(said.kind, said.standsFor) })
        return undefined
      case 'phase': {
        const phase = this.#area('phase', this.#phases, said.name)
        for (const member of said.members) this.#set(this.lines.find(member), { phase })
        return undefined
      }
      case 'element':
        this.#set(this.lines.find(said.element), {
          ...said.fields,
          ...(said.uses === undefined ? {} : { tool: this.#fact('system', said.uses) }),
        })
        return undefined
      case 'data':
        this.#data(said)
        return undefined
      case 'message':
        this.#tie('message', this.#end(said.from), this.#end(said.to), said.label === '' ? {} : { label: said.label })
        return undefined
      case 'way':
        return this.#condition(said)
      case 'apart':
        this.#tie('kept-apart', this.lines.find(said.a), this.lines.find(said.b))
        return undefined
    }
  }

  #set(id: Id | undefined, fields: Fields): void {
    if (id === undefined) return
    for (const [field, value] of Object.entries(fields)) this.steps.push(setEntity(id, `fields.${field}`, value))
  }

  #tie(kind: string, source: Id | undefined, target: Id | undefined, fields: Fields = {}): void {
    if (source !== undefined && target !== undefined)
      this.steps.push(tie(this.wish.newId(), kind, source, target, fields))
  }

  #area(kind: 'pool' | 'lane' | 'phase', known: Map<string, Id>, name: string): Id {
    const there = known.get(name.toLowerCase())
    if (there !== undefined) return there
    const id = this.wish.newId()
    known.set(name.toLowerCase(), id)
    this.steps.push(addEntity({ id, kind, name, fields: { process: this.process, order: known.size } }))
    return id
  }

  /** A fact that other chapters share, made where there is none of that name. */
  #fact(kind: string, name: string): Id {
    const known = this.#factsOf(kind)
    const key = calledKey(kind, name)
    const there = known.get(key)
    if (there !== undefined) return there
    const id = this.wish.newId()
    known.set(key, id)
    this.steps.push(addEntity({ id, kind, name, fields: {} }))
    return id
  }

  #factsOf(kind: string): Map<string, Id> {
    const known = this.#facts.get(kind)
    if (known) return known
    // Of several of one name the first is meant.
    const facts = new Map(
      this.wish.model
        .ofKind(kind)
        .toReversed()
        .map(({ id, name }) => [calledKey(kind, name), id]),
    )
    this.#facts.set(kind, facts)
    return facts
  }

  #end(end: MessageEnd): Id | undefined {
    return 'pool' in end ? this.#area('pool', this.#pools, end.pool) : this.lines.find(end)
  }

  #data({ name, type, lane, phase, reads, writes }: Extract<Beside, { of: 'data' }>): void {
    const near = {
      lane: lane === undefined ? undefined : this.#area('lane', this.lines.lanes, lane),
      phase: phase === undefined ? undefined : this.#area('phase', this.#phases, phase),
    }
    const made = newNode(this.wish, this.process, 'data', name, { type }, near, this.#later++)
    this.steps.push(...made.steps)
    for (const step of reads) this.#tie('reads', this.lines.find(step), made.id)
    for (const step of writes) this.#tie('writes', this.lines.find(step), made.id)
  }

  #condition({ from, to, condition }: Extract<Beside, { of: 'way' }>): string | undefined {
    const [source, target] = [this.lines.find(from), this.lines.find(to)]
    const flow =
      source !== undefined && target !== undefined ? this.lines.flows.get(betweenKey(source, target)) : undefined
    if (flow === undefined) return 'way between the two'
    this.steps.push(setRelation(flow, 'fields.condition', condition))
    return undefined
  }
}

/** The elements that are named. */
function elementsIn(said: Beside): readonly Ref[] {
  switch (said.of) {
    case 'phase':
      return said.members
    case 'element':
      return [said.element]
    case 'data':
      return [...said.reads, ...said.writes]
    case 'message':
      return [said.from, said.to].flatMap((end) => ('pool' in end ? [] : [end]))
    case 'way':
      return [said.from, said.to]
    case 'apart':
      return [said.a, said.b]
    default:
      return []
  }
}
