import { nearest, nth, wayTo } from '../../../graph'
import { setField, setRelation, thresholdOf, fixAs, type Found, type Rule } from '../../../notation'
import { flowWays, flowWords, isOverloaded, usualOf, type Carried } from '../carried'
import { speedText } from '../speed'
import { capacityOf, type Cable, type Device, type Net } from '../structure'
import { topologyOf, weaknessesOf, type Weakness } from '../topology'
import { wayOf, type Way } from '../ways'
import { finding, inEach, listed } from './found'

const calledOf = (of: Weakness['of']): string =>
  'device' in of
    ? `“${of.device.name}”`
    : `the cable between “${of.cable.a.device.name} ${of.cable.a.name}” and “${of.cable.b.device.name} ${of.cable.b.name}”`

const SINGLE: Pick<Rule, 'id' | 'threshold'> = {
  id: 'net/single-point',
  threshold: { initial: 1, label: 'Critical devices cut off, from so many on' },
}

export const singlePoint = inEach(
  {
    ...SINGLE,
    severity: 'warning',
    title: 'All hangs on one',
    why: 'Nothing else joins what is critical to the rest: one failure, and it is cut off. What belongs to the larger part that remains does not count as cut off; servers and endpoints pass nothing on unless they are said to.',
    source: 'Hopcroft & Tarjan 1973 (articulation points and bridges)',
  },
  (net, model): Found[] =>
    weaknessesOf(topologyOf(net)).flatMap(({ of, cutOff }): Found[] => {
      const critical = cutOff.filter((device) => device.critical)
      if (critical.length < Math.max(1, thresholdOf(model, SINGLE))) return []
      const called = calledOf(of)
      const others = cutOff.length - critical.length
      return [
        finding(
          `The loss of ${called} cuts off ${critical.length === 1 ? 'a critical device' : `${critical.length} critical devices`}: ${listed(critical.map(({ name }) => name))}${others > 0 ? `, and ${others} more` : ''}.`,
          'device' in of
            ? [of.device.id, ...critical.map(({ id }) => id)]
            : [of.cable.id, of.cable.a.device.id, of.cable.b.device.id, ...critical.map(({ id }) => id)],
        ),
      ]
    }),
)

/** What others hang on, where nobody says more. */
const SERVING: ReadonlySet<Device['type']> = new Set(['server', 'storage'])

export const noCritical = inEach(
  {
    id: 'net/no-critical',
    severity: 'note',
    title: 'Nothing is marked critical',
    why: 'The loss of one device or cable is found where it cuts off what is critical. As long as nothing is marked so, nothing is found.',
  },
  (net): Found[] => {
    if (net.devices.some(({ critical }) => critical)) return []
    const weak = weaknessesOf(topologyOf(net))
    const [first] = weak
    if (!first) return []
    const cutOff = new Set(weak.flatMap((one) => one.cutOff))
    const serving = [...cutOff].filter(({ type }) => SERVING.has(type)).slice(0, MOST_MARKED)
    const count = `${serving.length} ${serving.length === 1 ? 'server or store' : 'servers and stores'}`
    return [
      finding(
        `The loss of ${calledOf(first.of)}${weak.length > 1 ? `, or of ${weak.length - 1} more,` : ''} cuts others off; whether that matters is not known, as nothing is marked critical.`,
        'device' in first.of ? [first.of.device.id] : [first.of.cable.id],
        serving.length === 0
          ? []
          : [
              fixAs(
                `Mark ${count} critical`,
                `Mark ${count} critical`,
                ...serving.map(({ id }) => setField(id, 'critical', true)),
              ),
            ],
      ),
    ]
  },
)
const MOST_MARKED = 1000

export const noPath = inEach(
  {
    id: 'net/no-path',
    severity: 'error',
    title: 'There is no way for it',
    why: 'What is sent has to go along cables, and none leads there.',
  },
  (net) =>
    [...flowWays(topologyOf(net))].flatMap(([flow, way]): Found[] =>
      way
        ? []
        : [
            finding(`Nothing leads from “${flow.from.name}” to “${flow.to.name}”.`, [
              flow.id,
              flow.from.id,
              flow.to.id,
            ]),
          ],
    ),
)

/** From so much trust on a zone is not to be reached past all firewalls. */
const TRUSTED = new Set(['medium', 'high'])

export const bypass = inEach(
  {
    id: 'net/bypass',
    severity: 'error',
    title: 'A way past the firewalls',
    why: 'From a zone without trust a way leads into one of medium or high trust on which no firewall stands: nothing filters what comes along it.',
    source: 'NIST SP 800-41 Rev. 1, §2.3',
  },
  (net) => {
    const outside = net.zones.filter(({ trust }) => trust === 'none')
    const trusted = net.zones.filter(({ trust }) => trust !== undefined && TRUSTED.has(trust))
    return outside.flatMap((from): Found[] =>
      trusted.flatMap((to): Found[] => {
        const way = wayPast(
          net,
          (device) => device.zone === from,
          (device) => device.zone === to,
        )
        if (!way) return []
        return [
          finding(
            `From “${from.name}” to “${to.name}” a way leads past all firewalls: ${way.devices.map(({ name }) => name).join(' – ')}.`,
            [...way.devices.map(({ id }) => id), ...way.cables.map(({ id }) => id)],
          ),
        ]
      }),
    )
  },
)

/** A shortest way between two sets of devices that goes through no firewall. O(devices + cables) */
function wayPast(net: Net, begins: (device: Device) => boolean, ends: (device: Device) => boolean): Way | undefined {
  const topology = topologyOf(net)
  const isOpen = (node: number) => nth(net.devices, node).type !== 'firewall'
  const starts = [...net.devices.keys()].filter((node) => begins(nth(net.devices, node)) && isOpen(node))
  const found = nearest(topology.incidence, starts, { passes: (node) => topology.passes[node] === 1 && isOpen(node) })
  let best = -1
  for (const [node, steps] of found.steps.entries())
    if (steps > 0 && isOpen(node) && ends(nth(net.devices, node)) && (best < 0 || steps < nth(found.steps, best)))
      best = node
  const way = best < 0 ? undefined : wayTo(topology.incidence, found, best)
  if (!way) return undefined
  // The way is told from its end: so it is known where it begins.
  const backwards = wayOf(topology, best, way.toReversed())
  return { cables: backwards.cables.toReversed(), devices: backwards.devices.toReversed() }
}

export const overload = inEach(
  {
    id: 'net/overload',
    severity: 'warning',
    title: 'More than a cable carries',
    why: 'The flows that go along it add up to more than its capacity: by the way of fewest cables, then the fastest. Several cables between two switches are one link.',
    source: 'IEEE 802.1AX, §6.2',
  },
  (net) => {
    const topology = topologyOf(net)
    const usual = usualOf(topology)
    return [...usual].flatMap(([cable, carried]): Found[] => {
      if (!isOverloaded(cable, carried)) return []
      const { a, b } = cable
      const link = topology.links.get(cable)
      if (link) return link.find((one) => usual.has(one)) === cable ? [ofLink(link, usual)] : []
      const capacity = capacityOf(cable) ?? 0
      const enough = [100, 1000, 2500, 10_000, 25_000, 40_000, 100_000, 400_000].find((speed) => speed >= carried.load)
      return [
        finding(
          `${Math.round(carried.load * 100) / 100} Mbit/s go along the cable between “${a.device.name} ${a.name}” and “${b.device.name} ${b.name}”, which carries ${speedText(capacity)}: ${listed(carried.flows.map(flowWords))}.`,
          [cable.id, a.device.id, b.device.id, ...carried.flows.map(({ id }) => id)],
          enough === undefined || cable.relation.fields['capacity'] === undefined
            ? []
            : [
                fixAs(
                  `Make it ${speedText(enough)}`,
                  `Set capacity of a cable of “${a.device.name}”`,
                  setRelation(cable.id, 'fields.capacity', enough),
                ),
              ],
        ),
      ]
    })
  },
)

/** What goes along all cables of a link is more than they carry together. */
function ofLink(link: readonly Cable[], usual: ReadonlyMap<Cable, Carried>): Found {
  const [first] = link
  const sum = (of: (cable: Cable) => number | undefined) => link.reduce((all, cable) => all + (of(cable) ?? 0), 0)
  const flows = first ? (usual.get(first)?.flows ?? []) : []
  const ends = [first?.a.device, first?.b.device].flatMap((device) => device ?? [])
  return finding(
    `${Math.round(sum((cable) => usual.get(cable)?.load) * 100) / 100} Mbit/s go along the ${link.length} cables between ${ends.map(({ name }) => `“${name}”`).join(' and ')}, which carry ${speedText(sum(capacityOf))} together: ${listed(flows.map(flowWords))}.`,
    [...link.map(({ id }) => id), ...ends.map(({ id }) => id), ...flows.map(({ id }) => id)],
  )
}
