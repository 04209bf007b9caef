import { crossingsIn, type Point } from '../../../../layout'
import type { Cable, Net } from '../../structure'
import { arrange, type Arranged } from './arrange'
import { boxesOf, type Box, type Tiers } from './boxes'
import { planOf, USUAL, type Manner, type Measures, type Plan } from './plan'
import { twinsIn } from './twins'

const TIERS: readonly Tiers[] = ['few', 'more', 'by distance', 'a row']
const BACKWARDS: readonly Partial<Manner>[] = [
  { devices: 'backwards', cables: 'backwards' },
  { cables: 'backwards' },
  { devices: 'backwards' },
]
/** In a large network these cross least, and what they cross is foretold by the order within their columns. */
const FORETOLD: readonly Partial<Manner>[] = (['few', 'a row'] as const).flatMap((tiers) =>
  (['side by side', 'around'] as const).flatMap((twins) => [
    { tiers, twins, search: 'longer', neighbours: 'one after another' },
    { tiers, twins, search: 'longer', levels: 'as stated' },
  ]),
)
/** What may be changed about the best manner so far, in turn. */
const FURTHER: readonly (readonly Partial<Manner>[])[] = [
  TIERS.map((tiers) => ({ tiers })),
  BACKWARDS,
  [{ neighbours: 'one after another' }, { search: 'longer' }, { neighbours: 'one after another', search: 'longer' }],
]
/** After so much has been looked at, the best of the manners tried is taken: some tenths of a second. */
const MOST_EFFORT = 12_000_000
/** So many devices and cables are planned in all before the first manner is laid out. */
const MOST_PLANNED = 8000
/** Of those foretold, how many are laid out. */
const MOST_FORETOLD = 4
/** Another manner than one tried before has to save so much. */
const WORTH = 0.95
/** A small one would be tried in more manners than help. */
const MOST_TRIED = { small: 7, large: 9 } as const

/**
 * A network in the manner in which its lines cross least for the room that it takes. Manners are tried, from the one that crosses least so far, until
 * none crosses or so much has been looked at; grows as the flowchart does.
 */
export function arranged(
  net: Net,
  by: 'zone' | 'site',
  cables: readonly Cable[],
  measures: Measures,
  labelOf: (cable: Cable) => { readonly u: number; readonly v: number } | undefined,
): { readonly boxes: readonly Box[]; readonly laid: Arranged } {
  const isLarge = net.devices.length > SEEN_WHOLE
  const planned = (manner: Manner) =>
    planOf(boxesOf(net, net.devices, by, manner.tiers), cables, measures, labelOf, manner)
  const laidOut = (plan: Plan) => {
    const laid = arrange(plan)
    return { boxes: plan.boxes, laid, crossings: crossingsOf(laid), manner: plan.manner }
  }
  const tried: ReturnType<typeof laidOut>[] = []
  let effort = 0
  const fewest = () => tried.reduce((least, next) => (next.crossings < least.crossings ? next : least))
  const most = isLarge ? MOST_TRIED.large : MOST_TRIED.small
  const isEnough = () => tried.length >= most || effort > MOST_EFFORT || fewest().crossings === 0
  const layOut = (plan: Plan) => {
    const found = laidOut(plan)
    effort += found.laid.effort
    tried.push(found)
  }
  const tryAll = (changes: readonly Partial<Manner>[], base: Manner) => {
    for (const change of changes) {
      if (isEnough()) return
      const manner = { ...base, ...change }
      if (!tried.some((one) => isSame(one.manner, manner))) layOut(planned(manner))
    }
  }
  const first = isLarge ? foretold(net.devices.length + cables.length, planned) : [planned(USUAL)]
  for (const plan of first) if (tried.length === 0 || !isEnough()) layOut(plan)
  if (twinsIn(fewest().boxes, cables).size > 0) tryAll([{}, ...BACKWARDS], { ...USUAL, twins: 'around' })
  tryAll([{ neighbours: 'one after another', search: 'longer' }], USUAL)
  for (const changes of FURTHER) tryAll(changes, fewest().manner)
  return tried.reduce((best, next) => (costOf(next) <= costOf(best) * WORTH ? next : best))
}

/** Of the manners that cross least in large networks those of which the order within columns foretells least. */
function foretold(size: number, planned: (manner: Manner) => Plan): readonly Plan[] {
  const plans = FORETOLD.slice(0, Math.max(1, Math.floor(MOST_PLANNED / size))).map((change) =>
    planned({ ...USUAL, ...change }),
  )
  return plans.sort((a, b) => a.ahead.order.crossings - b.ahead.order.crossings).slice(0, MOST_FORETOLD)
}

/** What cables share counts once for all of them: the farthest way along each end of a rail, as heavy as those that lie on it. */
function crossingsOf({ ways }: Arranged): number {
  const rails = new Map<string, { way: readonly Point[]; count: number; far: number }>()
  const own: (readonly Point[])[] = []
  for (const cable of ways.values()) {
    own.push(cable.own)
    const [first, before, last] = [cable.shared[0], cable.shared.at(-2), cable.shared.at(-1)]
    if (!first || !before || !last) continue
    const key = `${first.x} ${first.y} ${Math.sign(last.y - before.y)}`
    const far = Math.abs(last.y - before.y)
    const known = rails.get(key) ?? { way: cable.shared, count: 0, far }
    rails.set(key, {
      way: far > known.far ? cable.shared : known.way,
      count: known.count + 1,
      far: Math.max(far, known.far),
    })
  }
  const shared = [...rails.values()]
  return crossingsIn([...shared.map(({ way }) => way), ...own], (way) => shared[way]?.count ?? 1)
}

/** So many devices are seen as a whole: room counts as much as crossings. In a larger picture lines are followed, and crossings alone count. */
const SEEN_WHOLE = 60
const costOf = ({ crossings, laid }: { readonly crossings: number; readonly laid: Arranged }): number =>
  (crossings + 1) * (laid.devices.size > SEEN_WHOLE ? 1 : laid.width * laid.height)

const isSame = (a: Manner, b: Manner): boolean =>
  a.tiers === b.tiers &&
  a.neighbours === b.neighbours &&
  a.levels === b.levels &&
  a.twins === b.twins &&
  a.devices === b.devices &&
  a.cables === b.cables &&
  a.search === b.search
