import { dayInWords, freeId, type Id, type Step } from '../../../model'
import { addEntity, fixAs, tie, type Found, listOf } from '../../../notation'
import { cableEnd, lastOf, lastOrder, portEntity } from '../edits'
import { pairWords, tableFor } from '../seen'
import { type Cable, type Device, type Net } from '../structure'
import { finding, inEach } from './found'

const pairOf = ({ a, b }: Cable): string =>
  pairWords({ device: a.device.name, port: a.name }, { device: b.device.name, port: b.name })

export const seenUnstated = inEach(
  {
    id: 'net/seen-unstated',
    severity: 'warning',
    title: 'A cable that nobody stated',
    why: 'The devices tell of each other over a cable that stands in no fact: either it was plugged without being written down, or the facts are behind.',
    source: 'IEEE 802.1AB',
  },
  (net, model) => {
    const table = tableFor(model, net.id)
    if (!table) return []
    const stated = new Set(net.cables.map((cable) => pairOf(cable).toLowerCase()))
    return listOf(table, 'seen').flatMap((seen): Found[] => {
      if (stated.has(seen.toLowerCase())) return []
      const ends = seen.split(' – ').map((end) => plugIn(net, end))
      const [a, b] = ends
      const known = ends.flatMap((end) => end?.device.id ?? [])
      const steps = a && b ? stating(model.entities, a, b) : []
      return [
        {
          ...finding(
            `The network shows a cable ${seen}, and no fact states it.`,
            [...known, table.id],
            steps.length > 0 ? [fixAs('State it', `State a cable ${seen}`, ...steps)] : [],
          ),
          about: seen.slice(0, 200),
        },
      ]
    })
  },
)

export const statedUnseen = inEach(
  {
    id: 'net/stated-unseen',
    severity: 'warning',
    title: 'A cable that nobody sees',
    why: 'Both devices tell their neighbours, and neither tells of the other: the cable was pulled, or is broken. Devices that tell nothing are not asked.',
    source: 'IEEE 802.1AB',
  },
  (net, model, day) => {
    const table = tableFor(model, net.id)
    if (!table) return []
    const list = listOf(table, 'seen').map((one) => one.toLowerCase())
    const seen = new Set(list)
    // Every beginning of an end may be the name of a device.
    const telling = new Set(list.flatMap((one) => one.split(' – ').flatMap(beginningsOf)))
    const tells = new Set(net.devices.filter(({ name }) => telling.has(name.toLowerCase())))
    return net.cables.flatMap((cable): Found[] => {
      const { a, b, id } = cable
      if (!tells.has(a.device) || !tells.has(b.device) || seen.has(pairOf(cable).toLowerCase())) return []
      const last = lastOf(cable.relation, day)
      return [
        finding(
          `The cable ${pairOf(cable)} is stated, and the network does not show it.`,
          [id, a.device.id, b.device.id],
          [
            fixAs(
              last === undefined ? 'Take it away' : `End it on ${dayInWords(last)}`,
              `End the cable ${pairOf(cable)}`,
              cableEnd(cable.relation, day),
            ),
          ],
        ),
      ]
    })
  },
)

const beginningsOf = (text: string): string[] => {
  const words = text.split(' ')
  return words.map((_, at) => words.slice(0, at + 1).join(' '))
}

interface End {
  readonly device: Device
  readonly port: string
}

/** A device and its port of a text that names both; the longest name of a device counts. */
function plugIn(net: Net, text: string): End | undefined {
  const wanted = text.toLowerCase()
  const [device] = net.devices
    .filter(({ name }) => wanted.startsWith(`${name.toLowerCase()} `))
    .sort((a, b) => b.name.length - a.name.length)
  return device && { device, port: text.slice(device.name.length + 1) }
}

function stating(taken: ReadonlyMap<Id, unknown>, a: End, b: End): Step[] {
  const steps: Step[] = []
  const port = ({ device, port: name }: End): Id => {
    const known = device.ports.find((one) => one.name.toLowerCase() === name.toLowerCase())
    if (known) return known.id
    const id = freeId(taken, `port-${device.id}-${name.replace(/[^\w.-]+/g, '-')}`)
    const order = lastOrder(device.ports.map(({ entity }) => entity)) + 1
    steps.push(addEntity(portEntity(id, name, device.id, order)))
    return id
  }
  const [from, to] = [port(a), port(b)]
  return [...steps, tie(freeId(taken, `cable-${from}-${to}`), 'cable', from, to)]
}
