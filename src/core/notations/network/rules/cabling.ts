import type { Id, Step } from '../../../model'
import {
  fixAs,
  removeRelation,
  setField,
  setRelation,
  type Fix,
  type Found,
  listOf,
  numberOf,
  textOf,
} from '../../../notation'
import { speedText } from '../speed'
import { acrossFrom, type Cable, type Device, type Net, type Port } from '../structure'
import { unreadVlans, vlansOf, vlanText, type Vlans } from '../vlans'
import { finding, inEach, listed } from './found'

const called = ({ device, name }: Port): string => `${device.name} ${name}`
const both = ({ a, b }: Cable): string => `“${called(a)}” and “${called(b)}”`
const subjectsOf = ({ id, a, b }: Cable): Id[] => [id, a.id, b.id, a.device.id, b.device.id]

export const portShared = inEach(
  {
    id: 'net/port-shared',
    severity: 'error',
    title: 'Two cables in one port',
    why: 'A port takes one plug.',
  },
  (net) =>
    [...net.ports.values()].flatMap((port): Found[] => {
      const [first, ...others] = port.cables
      const last = others.at(-1)
      if (!first || !last) return []
      const free = port.device.ports.find(({ cables }) => cables.length === 0)
      const fixes: Fix[] = [
        ...(free
          ? [
              fixAs(
                `Move one to “${free.name}”`,
                `Move a cable of “${called(port)}” to “${free.name}”`,
                setRelation(last.id, last.a === port ? 'source' : 'target', free.id),
              ),
            ]
          : []),
        fixAs(
          `Take the one to “${called(acrossFrom(last, port))}” away`,
          `Take a cable of “${called(port)}” away`,
          removeRelation(last.id),
        ),
      ]
      return [
        finding(
          `“${called(port)}” has ${port.cables.length} cables: to ${listed(port.cables.map((cable) => called(acrossFrom(cable, port))))}.`,
          [port.id, port.device.id, ...port.cables.map(({ id }) => id)],
          fixes,
        ),
      ]
    }),
)

/** Both ends of each cable compared in something that both state. */
const mismatch = (net: Net, field: string, find: (cable: Cable, a: unknown, b: unknown) => readonly Found[]): Found[] =>
  net.cables.flatMap((cable) => {
    const [a, b] = [cable.a.entity.fields[field], cable.b.entity.fields[field]]
    return a === undefined || b === undefined || a === b ? [] : find(cable, a, b)
  })

export const speedMismatch = inEach(
  {
    id: 'net/speed-mismatch',
    severity: 'warning',
    title: 'Two speeds on one cable',
    why: 'Ports that are set to different speeds do not find each other, or run at the slower one.',
    source: 'IEEE 802.3, clause 28',
  },
  (net) =>
    mismatch(net, 'speed', (cable, a, b) => {
      const slower = Math.min(Number(a), Number(b))
      const faster = Number(a) > Number(b) ? cable.a : cable.b
      return [
        finding(
          `${both(cable)} are joined at ${speedText(Number(a))} and ${speedText(Number(b))}.`,
          subjectsOf(cable),
          [
            fixAs(
              `Set “${called(faster)}” to ${speedText(slower)}`,
              `Set speed of “${called(faster)}”`,
              setField(faster.id, 'speed', slower),
            ),
          ],
        ),
      ]
    }),
)

export const duplexMismatch = inEach(
  {
    id: 'net/duplex-mismatch',
    severity: 'warning',
    title: 'Full duplex against half',
    why: 'The side that thinks it has the cable for itself sends into the other one’s traffic: it works, slowly, with losses.',
    source: 'IEEE 802.3, clause 4.1.3 and Annex 31B',
  },
  (net) =>
    mismatch(net, 'duplex', (cable, a, b) => {
      // What finds out by itself falls back to half where the other side does not take part.
      const words = `${String(a)} and ${String(b)}`
      const odd = a === 'full' || a === 'auto' ? cable.b : cable.a
      return [
        finding(`${both(cable)} are joined at ${words} duplex.`, subjectsOf(cable), [
          fixAs(
            `Set “${called(odd)}” to ${String(a === 'full' || b === 'full' ? 'full' : 'auto')}`,
            `Set duplex of “${called(odd)}”`,
            setField(cable.a.id, 'duplex', a === 'full' || b === 'full' ? 'full' : 'auto'),
            setField(cable.b.id, 'duplex', a === 'full' || b === 'full' ? 'full' : 'auto'),
          ),
        ]),
      ]
    }),
)

export const mtuMismatch = inEach(
  {
    id: 'net/mtu-mismatch',
    severity: 'warning',
    title: 'Two sizes of packets on one cable',
    why: 'What one side sends whole the other side drops: large transfers stall while small ones pass.',
    source: 'RFC 1191; RFC 8201',
  },
  (net) =>
    mismatch(net, 'mtu', (cable, a, b) => {
      const less = Math.min(Number(a), Number(b))
      const larger = Number(a) > Number(b) ? cable.a : cable.b
      return [
        finding(`${both(cable)} take packets of ${String(a)} and ${String(b)} bytes.`, subjectsOf(cable), [
          fixAs(
            `Set “${called(larger)}” to ${less}`,
            `Set MTU of “${called(larger)}”`,
            setField(larger.id, 'mtu', less),
          ),
        ]),
      ]
    }),
)

const saysVlan = ({ entity }: Port): boolean =>
  entity.fields['vlan'] !== undefined || listOf(entity, 'tagged').length > 0
function vlanWords(port: Port): string {
  const { own, tagged } = vlansOf(port.entity)
  return [own === undefined ? '' : `VLAN ${own}`, tagged.size > 0 ? `tagged ${vlanText(tagged).join(', ')}` : '']
    .filter(Boolean)
    .join(' and ')
}
const isSame = (a: Vlans, b: Vlans): boolean =>
  a.own === b.own && a.tagged.size === b.tagged.size && [...a.tagged].every((one) => b.tagged.has(one))

export const vlanMismatch = inEach(
  {
    id: 'net/vlan-mismatch',
    severity: 'error',
    title: 'Two ends in different VLANs',
    why: 'What one side sends in a VLAN the other side takes for another one, or drops. An end that states no VLAN is not asked.',
    source: 'IEEE 802.1Q, §8.6',
  },
  (net) =>
    net.cables.flatMap((cable): Found[] => {
      const { a, b } = cable
      if (!saysVlan(a) || !saysVlan(b)) return []
      // What cannot be read is told by itself.
      if ([a, b].some(({ entity }) => unreadVlans(listOf(entity, 'tagged').join()) !== undefined)) return []
      if (isSame(vlansOf(a.entity), vlansOf(b.entity))) return []
      const set = (port: Port, like: Port): Step[] => {
        const { own, tagged } = vlansOf(like.entity)
        return [
          setField(port.id, 'vlan', own ?? null),
          setField(port.id, 'tagged', tagged.size > 0 ? vlanText(tagged) : null),
        ]
      }
      return [
        finding(
          `“${called(a)}” has ${vlanWords(a)}, “${called(b)}” at the other end ${vlanWords(b)}.`,
          subjectsOf(cable),
          [
            fixAs(`Set “${called(b)}” like “${called(a)}”`, `Set VLANs of “${called(b)}”`, ...set(b, a)),
            fixAs(`Set “${called(a)}” like “${called(b)}”`, `Set VLANs of “${called(a)}”`, ...set(a, b)),
          ],
        ),
      ]
    }),
)

const FIBRE = new Set(['OM2', 'OM3', 'OM4', 'OM5', 'OS1', 'OS2'])
const SINGLE = new Set(['OS1', 'OS2'])

/** The medium that a class of cable is made of. */
const mediumOf = (category: string | undefined): string | undefined =>
  category === undefined
    ? undefined
    : FIBRE.has(category)
      ? SINGLE.has(category)
        ? 'single-mode fibre'
        : 'multimode fibre'
      : 'copper'

export const mediumMismatch = inEach(
  {
    id: 'net/medium-mismatch',
    severity: 'error',
    title: 'A plug that does not fit',
    why: 'A cable and the two ports it joins have to be of one medium.',
    source: 'ISO/IEC 11801',
  },
  (net) =>
    net.cables.flatMap((cable): Found[] => {
      const { a, b, relation } = cable
      const stated = [
        [`the cable`, textOf(relation, 'medium') ?? mediumOf(textOf(relation, 'category'))],
        [`“${called(a)}”`, textOf(a.entity, 'medium')],
        [`“${called(b)}”`, textOf(b.entity, 'medium')],
      ].filter((one): one is [string, string] => one[1] !== undefined)
      if (new Set(stated.map(([, medium]) => medium)).size < 2) return []
      const own = textOf(a.entity, 'medium')
      const isCable = own !== undefined && own === textOf(b.entity, 'medium')
      return [
        finding(
          `Between ${both(cable)}: ${stated.map(([what, medium]) => `${what} is ${medium}`).join(', ')}.`,
          subjectsOf(cable),
          isCable
            ? [
                fixAs(
                  `Make the cable ${own}`,
                  `Set medium of a cable of “${called(a)}”`,
                  setRelation(cable.id, 'fields.medium', own),
                  ...(mediumOf(textOf(relation, 'category')) === own || relation.fields['category'] === undefined
                    ? []
                    : [setRelation(cable.id, 'fields.category', null)]),
                ),
              ]
            : [],
        ),
      ]
    }),
)

/** Metres that balanced copper reaches as a channel. */
const REACH = 100

export const tooLong = inEach(
  {
    id: 'net/too-long',
    severity: 'warning',
    title: 'A copper cable is too long',
    why: 'Balanced copper is specified for 100 m from device to device, patch cords included; beyond that errors grow.',
    source: 'ANSI/TIA-568, channel of 100 m',
  },
  (net) =>
    net.cables.flatMap((cable): Found[] => {
      const { relation, a, b } = cable
      const length = numberOf(relation, 'length')
      const medium =
        textOf(relation, 'medium') ??
        mediumOf(textOf(relation, 'category')) ??
        textOf(a.entity, 'medium') ??
        textOf(b.entity, 'medium')
      return medium === 'copper' && length !== undefined && length > REACH
        ? [
            finding(`The copper cable between ${both(cable)} is ${length} m long.`, subjectsOf(cable), [
              fixAs(
                'Make it fibre',
                `Set medium of a cable of “${called(a)}”`,
                setRelation(cable.id, 'fields.medium', 'multimode fibre'),
                setRelation(cable.id, 'fields.category', null),
              ),
            ]),
          ]
        : []
    }),
)

/** Watts at the port, and what of them reaches the other end at most: IEEE 802.3-2018, tables 33-11, 33-18 and 145-16. */
const POWER: Readonly<Record<string, { readonly gives: number; readonly reaches: number }>> = {
  af: { gives: 15.4, reaches: 12.95 },
  at: { gives: 30, reaches: 25.5 },
  'bt type 3': { gives: 60, reaches: 51 },
  'bt type 4': { gives: 90, reaches: 71.3 },
}
const WEAKEST_FIRST = ['af', 'at', 'bt type 3', 'bt type 4'] as const

export const poeBudget = inEach(
  {
    id: 'net/poe-budget',
    severity: 'error',
    title: 'Not enough power over the cable',
    why: 'A port gives what its class allows, less what the cable takes; all ports of a device share its budget.',
    source: 'IEEE 802.3af, 802.3at, 802.3bt',
  },
  (net) => [
    ...net.cables.flatMap((cable): Found[] =>
      [cable.a, cable.b].flatMap((port): Found[] => {
        const draws = numberOf(port.entity, 'draws')
        if (draws === undefined || draws === 0) return []
        const source = acrossFrom(cable, port)
        const sort = textOf(source.entity, 'poe')
        const reaches = sort === undefined ? 0 : (POWER[sort]?.reaches ?? 0)
        if (draws <= reaches) return []
        const enough = WEAKEST_FIRST.find((one) => (POWER[one]?.reaches ?? 0) >= draws)
        return [
          finding(
            sort === undefined
              ? `“${called(port)}” draws ${draws} W, but “${called(source)}” gives no power.`
              : `“${called(port)}” draws ${draws} W; by ${sort}, ${reaches} W reach it from “${called(source)}”.`,
            [port.device.id, port.id, cable.id, source.device.id],
            enough === undefined
              ? []
              : [
                  fixAs(
                    `Let “${called(source)}” give ${enough}`,
                    `Set PoE of “${called(source)}”`,
                    setField(source.id, 'poe', enough),
                  ),
                ],
          ),
        ]
      }),
    ),
    ...net.devices.flatMap((device): Found[] => {
      const budget = numberOf(device.entity, 'budget')
      if (budget === undefined) return []
      const fed = drawnFrom(device)
      const sum = fed.reduce((total, { watts }) => total + watts, 0)
      return sum > budget
        ? [
            finding(`${fed.length} devices draw ${tidy(sum)} W from “${device.name}”, which has ${budget} W to give.`, [
              device.id,
              ...fed.map(({ to }) => to.id),
            ]),
          ]
        : []
    }),
  ],
)

const tidy = (watts: number): number => Math.round(watts * 100) / 100

/** What is fed by the ports of a device. */
const drawnFrom = (device: Device): { to: Device; watts: number }[] =>
  device.ports
    .filter(({ entity }) => textOf(entity, 'poe') !== undefined)
    .flatMap((port) =>
      port.cables.flatMap((cable) => {
        const other = acrossFrom(cable, port)
        const watts = numberOf(other.entity, 'draws')
        return watts === undefined || watts === 0 ? [] : [{ to: other.device, watts }]
      }),
    )

export const unconnected = inEach(
  {
    id: 'net/unconnected',
    severity: 'note',
    title: 'Cabled to nothing',
    why: 'A device without a cable is either not in use or its cables were forgotten.',
  },
  (net) =>
    net.devices.flatMap((device): Found[] =>
      device.ports.some(({ cables }) => cables.length > 0)
        ? []
        : [finding(`“${device.name}” is cabled to nothing.`, [device.id])],
    ),
)
