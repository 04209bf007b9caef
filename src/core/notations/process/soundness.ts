import { nth, reach } from '../../graph'
import type { Id, Relation } from '../../model'
import type { FlowNode, Process } from './structure'

/** What can go wrong when cases run through a process, with the shortest way to it. */
export interface Unsound {
  readonly sort: 'deadlock' | 'unsynchronised' | 'improper-end'
  /** The node at which it shows. */
  readonly node: Id
  readonly trace: readonly TraceMoment[]
}

/** A node has just been passed; these lines hold the case. */
interface TraceMoment {
  readonly node: Id
  readonly marked: readonly Id[]
}

export interface Verdict {
  readonly decided: boolean
  readonly faults: readonly Unsound[]
  /** States looked at. */
  readonly states: number
}

/** The bound of the search, in states. */
const MOST_STATES = 60_000

type Gate = 'xor' | 'and' | 'or' | 'start' | 'end'

/** A node of the net: what it takes from and gives to, as indexes of places; each place is a line of the flow. */
interface Turn {
  readonly node: Id
  readonly join: Gate
  readonly split: Gate
  readonly into: readonly number[]
  readonly out: readonly number[]
}

interface Net {
  readonly turns: readonly Turn[]
  readonly places: readonly Id[]
}

/**
 * Whether every case can end, ends properly and loses no synchronisation (soundness of the flow as a workflow net: van der Aalst 1998, with
 * inclusive gateways that wait for whatever can still come). Blocks within blocks are folded away first, which changes nothing about it
 * (Murata 1989; van Dongen, van der Aalst & Verbeek 2005); what is left is searched state by state, the shortest way first.
 * O(states), at most `bound` of them; beyond it the verdict is left open.
 */
export function soundnessOf(process: Process, bound = MOST_STATES): Verdict {
  const net = netOf(process)
  const folded = fold(net)
  if (folded.turns.length <= 2 && folded.places.length <= 1) return { decided: true, faults: [], states: 0 }
  const short = search(folded, bound)
  if (short.faults.length === 0) return short
  // The way is told in the process's own steps, where the search through them stays within the bound.
  const full = search(net, bound)
  return full.faults.length > 0 ? full : short
}

function netOf({ nodes, flows }: Process): Net {
  const index = new Map(flows.map(({ id }, place) => [id, place]))
  const places = (lines: readonly Relation[]) => lines.flatMap(({ id }) => index.get(id) ?? [])
  const turns = [...nodes.values()].flatMap((node): Turn[] => {
    if (node.kind === 'data') return []
    const into = places(node.into)
    const out = places(node.out)
    const host = node.during && nodes.get(node.during.target)
    if (host) {
      // It takes what would have come to the step; where the step goes on, that goes on as well.
      const more = node.during?.fields['goesOn'] === true ? places(host.out) : []
      const split = out.length + more.length === 0 ? 'end' : 'and'
      return [{ node: node.id, join: 'xor', split, into: places(host.into), out: [...out, ...more] }]
    }
    if (node.kind === 'event' && node.type === 'start')
      return [{ node: node.id, join: 'start', split: 'and', into: [], out }]
    if (out.length === 0) return [{ node: node.id, join: gateOf(node), split: 'end', into, out }]
    return [{ node: node.id, join: into.length === 0 ? 'start' : gateOf(node), split: splitOf(node), into, out }]
  })
  return { turns, places: flows.map(({ id }) => id) }
}

/** Several lines into one task each bring the case on by themselves. */
function gateOf({ kind, type }: FlowNode): Gate {
  if (kind !== 'gateway') return 'xor'
  return type === 'parallel' ? 'and' : type === 'inclusive' ? 'or' : 'xor'
}

/** Several lines out of one task are all taken. */
function splitOf({ kind, type }: FlowNode): Gate {
  if (kind !== 'gateway') return 'and'
  return type === 'parallel' ? 'and' : type === 'inclusive' ? 'or' : 'xor'
}

/** Takes steps out of lines, and closes blocks that open and join alike, until nothing changes. O(turns²) at worst, few rounds in fact. */
function fold({ turns, places }: Net): Net {
  let list: Turn[] = [...turns]
  const renamed = new Map<number, number>()
  const end = (place: number): number => {
    let at = place
    for (let next = renamed.get(at); next !== undefined; next = renamed.get(at)) at = next
    return at
  }
  const refresh = () => {
    list = list.map((turn) => ({
      ...turn,
      into: [...new Set(turn.into.map(end))],
      out: [...new Set(turn.out.map(end))],
    }))
  }
  for (let changed = true; changed;) {
    changed = false
    const taker = new Map<number, Turn>()
    // A place that several may take from, as a step and the events during it, is a choice that is not folded away.
    const contested = new Set<number>()
    for (const turn of list)
      for (const place of turn.into) {
        if (taker.has(place)) contested.add(place)
        taker.set(place, turn)
      }
    for (const turn of list) {
      if ([...turn.into, ...turn.out].some((place) => contested.has(place))) continue
      const [into] = turn.into
      const [out] = turn.out
      // One line in and one line out: the step can be left away.
      if (
        turn.join !== 'start' &&
        turn.into.length === 1 &&
        turn.out.length === 1 &&
        into !== undefined &&
        out !== undefined &&
        into !== out
      ) {
        renamed.set(out, into)
        list = list.filter((one) => one !== turn)
        changed = true
        break
      }
      // A split whose ways all meet again in a join of the same sort.
      const meeting = out === undefined ? undefined : taker.get(out)
      const closes =
        meeting &&
        meeting !== turn &&
        turn.out.length > 1 &&
        turn.split === meeting.join &&
        turn.out.every((place) => taker.get(place) === meeting) &&
        (turn.split === 'xor' || meeting.into.length === turn.out.length)
      if (closes && out !== undefined) {
        for (const place of turn.out.slice(1)) renamed.set(place, out)
        changed = true
        break
      }
      // A way straight back from a decision to the merge before it.
      const back = turn.split === 'xor' && turn.join === 'xor' && turn.out.find((place) => turn.into.includes(place))
      if (typeof back === 'number' && turn.out.length > 1) {
        list = list.map((one) =>
          one === turn
            ? {
                ...turn,
                into: turn.into.filter((place) => place !== back),
                out: turn.out.filter((place) => place !== back),
              }
            : one,
        )
        changed = true
        break
      }
      // A merge straight before a decision is one turn.
      const after = out === undefined || turn.out.length !== 1 ? undefined : taker.get(out)
      if (
        after &&
        after !== turn &&
        turn.join === 'xor' &&
        after.join === 'xor' &&
        after.into.length === 1 &&
        turn.split !== 'end'
      ) {
        const both: Turn = { node: after.node, join: 'xor', split: after.split, into: turn.into, out: after.out }
        list = [...list.filter((one) => one !== turn && one !== after), both]
        changed = true
        break
      }
    }
    if (changed) refresh()
  }
  const left = [...new Set(list.flatMap(({ into, out }) => [...into, ...out]))].sort((a, b) => a - b)
  const place = new Map(left.map((old, index) => [old, index]))
  const moved = (one: readonly number[]) => one.map((old) => place.get(old) ?? 0)
  return {
    turns: list.map((turn) => ({ ...turn, into: moved(turn.into), out: moved(turn.out) })),
    places: left.flatMap((old) => places[old] ?? []),
  }
}

interface State {
  /** Tokens on each place, as characters; then the ends that were reached. */
  readonly marks: string
  readonly parent: number
  readonly turn: number
}

function search({ turns, places }: Net, bound: number): Verdict {
  const starts = turns.filter(({ join }) => join === 'start')
  const ends = turns.flatMap(({ split }, turn) => (split === 'end' ? [turn] : []))
  const endIndex = new Map(ends.map((turn, index) => [turn, places.length + index]))
  const upstream = inclusiveReach(turns)
  const faults: Unsound[] = []
  const found = new Set<string>()
  let looked = 0
  for (const start of starts) {
    const states: State[] = []
    const seen = new Set<string>()
    const empty = new Array<number>(places.length + ends.length).fill(0)
    const add = (marks: readonly number[], parent: number, turn: number) => {
      const key = marks.map((count) => String.fromCharCode(48 + count)).join('')
      if (seen.has(key)) return
      seen.add(key)
      states.push({ marks: key, parent, turn })
    }
    const fault = (sort: Unsound['sort'], node: Id, state: number, turn?: number, marks?: readonly number[]) => {
      if (found.has(`${sort} ${node}`)) return
      found.add(`${sort} ${node}`)
      const trace = traceOf(states, state, turns, places)
      const last = turn === undefined ? undefined : turns[turn]
      if (last && marks) trace.push({ node: last.node, marked: markedIn(marks, places) })
      faults.push({ sort, node, trace })
    }
    const begun = [...empty]
    for (const place of start.out) begun[place] = 1
    add(begun, -1, turns.indexOf(start))
    for (let at = 0; at < states.length; at++) {
      if (++looked > bound) return { decided: false, faults, states: looked }
      const state = states[at]
      if (!state) break
      const marks = [...state.marks].map((letter) => letter.charCodeAt(0) - 48)
      let moved = false
      turns.forEach((turn, index) => {
        for (const [next, gain] of firings(turn, marks, upstream.get(index))) {
          moved = true
          const end = endIndex.get(index)
          if (end !== undefined) {
            if (nth(marks, end) > 0) {
              fault('improper-end', turn.node, at, index, next)
              continue
            }
            next[end] = 1
          }
          if (gain.some((place) => nth(next, place) > 1)) {
            fault('unsynchronised', turn.node, at, index, next)
            continue
          }
          add(next, at, index)
        }
      })
      if (!moved && marks.slice(0, places.length).some((count) => count > 0)) {
        const stuck = turns.find(
          ({ join, into }) => (join === 'and' || join === 'or') && into.some((place) => nth(marks, place) > 0),
        )
        const waiting = stuck ?? turns.find(({ into }) => into.some((place) => nth(marks, place) > 0))
        if (waiting) fault('deadlock', waiting.node, at)
      }
    }
  }
  return { decided: true, faults, states: looked }
}

/** Every way in which a turn can be taken in a state, with the places that gain by it. */
function firings(
  turn: Turn,
  marks: readonly number[],
  upstream: ReadonlyMap<number, ReadonlySet<number>> | undefined,
): [number[], readonly number[]][] {
  const { join, split, into, out } = turn
  if (join === 'start') return []
  const full = into.filter((place) => nth(marks, place) > 0)
  if (full.length === 0) return []
  const taken: (readonly number[])[] =
    join === 'xor'
      ? full.map((place) => [place])
      : join === 'and'
        ? full.length === into.length
          ? [into]
          : []
        : canStillCome()
          ? []
          : [full]
  const given: (readonly number[])[] =
    split === 'end' ? [[]] : split === 'xor' ? out.map((place) => [place]) : split === 'and' ? [out] : subsets(out)
  return taken.flatMap((from) =>
    given.map((to): [number[], readonly number[]] => {
      const next = [...marks]
      for (const place of from) next[place] = nth(next, place) - 1
      for (const place of to) next[place] = nth(next, place) + 1
      return [next, to]
    }),
  )

  /** ISO/IEC 19510, 13.4.3: it waits for a case that can still come to an empty line, unless the same can come to a full one as well. */
  function canStillCome(): boolean {
    const toFull = new Set(full.flatMap((place) => [...(upstream?.get(place) ?? [])]))
    return into.some(
      (place) =>
        nth(marks, place) === 0 &&
        [...(upstream?.get(place) ?? [])].some(
          (other) => nth(marks, other) > 0 && !into.includes(other) && !toFull.has(other),
        ),
    )
  }
}

const MOST_WAYS = 6

function subsets(places: readonly number[]): number[][] {
  const some = places.slice(0, MOST_WAYS)
  return Array.from({ length: 2 ** some.length - 1 }, (_, bits) => some.filter((_, i) => ((bits + 1) >> i) & 1))
}

/** For each inclusive join: from which places each of its lines can still be reached without passing the join. */
function inclusiveReach(turns: readonly Turn[]): Map<number, Map<number, Set<number>>> {
  const giver = new Map<number, Turn>()
  for (const turn of turns) for (const place of turn.out) giver.set(place, turn)
  const reaches = new Map<number, Map<number, Set<number>>>()
  turns.forEach((join, index) => {
    if (join.join !== 'or' || join.into.length < 2) return
    const byPlace = new Map<number, Set<number>>()
    for (const place of join.into) {
      const before = (at: number) => (giver.get(at) === join ? [] : (giver.get(at)?.into ?? []))
      byPlace.set(place, reach(before(place), before))
    }
    reaches.set(index, byPlace)
  })
  return reaches
}

function traceOf(states: readonly State[], last: number, turns: readonly Turn[], places: readonly Id[]): TraceMoment[] {
  const trace: TraceMoment[] = []
  for (let at = last; at >= 0;) {
    const state = states[at]
    const turn = state && turns[state.turn]
    if (!state || !turn) break
    trace.push({
      node: turn.node,
      marked: markedIn(
        [...state.marks].map((letter) => letter.charCodeAt(0) - 48),
        places,
      ),
    })
    at = state.parent
  }
  return trace.reverse()
}

const markedIn = (marks: readonly number[], places: readonly Id[]): Id[] =>
  places.filter((_, place) => nth(marks, place) > 0)
