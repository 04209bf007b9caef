import { covers, grouped, type Entity } from '../../../model'
import { COMMON, setField, fixAs, type Found, type Rule, numberOf } from '../../../notation'
import { lowestFree, rackUnits, spanOf } from '../racked'
import { netsOn, type Device } from '../structure'
import { finding, listed } from './found'

/** Devices of all networks by the rack that they are in. */
const byRack = (devices: readonly Device[]): ReadonlyMap<Entity, Device[]> =>
  grouped(
    devices.filter(({ rack }) => rack !== undefined),
    ({ rack }) => rack as Entity,
  )

const inRacks =
  (find: (rack: Entity, devices: readonly Device[]) => readonly Found[]): Rule['check'] =>
  (model, day) =>
    [...byRack(netsOn(model, day).flatMap(({ devices }) => devices))].flatMap(([rack, devices]) =>
      covers(rack, day) ? find(rack, devices) : [],
    )

export const rackOverlap: Rule = {
  id: 'net/rack-overlap',
  severity: 'error',
  title: 'Two devices in one place of a rack',
  why: 'Each unit of a rack takes one device, from its lowest unit upwards by its height; nothing stands above the top.',
  source: 'EIA/ECA-310-E (rack units)',
  check: inRacks((rack, devices) => {
    const units = rackUnits(rack)
    const placed = devices
      .flatMap((device) => {
        const span = spanOf(device)
        return span ? [{ device, span }] : []
      })
      .sort((a, b) => a.span.from - b.span.from)
    const higher = (device: Device) => {
      const free = lowestFree(rack, devices, device)
      return free === undefined
        ? []
        : [
            fixAs(
              `Put “${device.name}” at u ${free}`,
              `Put “${device.name}” at unit ${free} of “${rack.name}”`,
              setField(device.id, 'unit', free),
            ),
          ]
    }
    const found: Found[] = []
    let top: (typeof placed)[number] | undefined
    for (const one of placed) {
      if (top && one.span.from <= top.span.to)
        found.push(
          finding(
            `“${top.device.name}” (u ${top.span.from} to ${top.span.to}) and “${one.device.name}” (u ${one.span.from} to ${one.span.to}) share units of rack “${rack.name}”.`,
            [one.device.id, top.device.id, rack.id],
            higher(one.device),
          ),
        )
      if (one.span.to > units)
        found.push(
          finding(
            `“${one.device.name}” reaches unit ${one.span.to} of rack “${rack.name}”, which has ${units}.`,
            [one.device.id, rack.id],
            higher(one.device),
          ),
        )
      if (!top || one.span.to > top.span.to) top = one
    }
    return found
  }),
}

export const rackPower: Rule = {
  id: 'net/rack-power',
  severity: 'error',
  title: 'A rack draws more than it may',
  why: 'The power that its devices take adds up to more than the rack is supplied with.',
  source: COMMON,
  check: inRacks((rack, devices) => {
    const most = numberOf(rack, 'watts')
    const drawn = devices.filter(({ entity }) => numberOf(entity, 'watts') !== undefined)
    const sum = drawn.reduce((total, { entity }) => total + (numberOf(entity, 'watts') ?? 0), 0)
    return most === undefined || sum <= most
      ? []
      : [
          finding(
            `${listed(drawn.map(({ name }) => name))} take ${Math.round(sum * 100) / 100} W in rack “${rack.name}”, which has ${most} W.`,
            [rack.id, ...drawn.map(({ id }) => id)],
          ),
        ]
  }),
}
