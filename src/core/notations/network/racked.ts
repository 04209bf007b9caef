import { numberOf } from '../../notation'
import type { Entity } from '../../model'
import { type Device } from './structure'

/** Units of a rack that says nothing else (EIA/ECA-310-E racks of two metres). */
const USUAL = 42

export const rackUnits = (rack: Entity): number => numberOf(rack, 'units') ?? USUAL

/** The units that a device takes in its rack, from the lowest; undefined where it states none. */
export function spanOf({ entity }: Pick<Device, 'entity'>): { readonly from: number; readonly to: number } | undefined {
  const from = numberOf(entity, 'unit')
  return from === undefined ? undefined : { from, to: from + heightOf(entity) - 1 }
}

export const heightOf = (entity: Entity): number => numberOf(entity, 'height') ?? 1

/** How many units of a rack nothing stands in. O(devices · units) */
export const freeUnits = (rack: Entity, devices: readonly Device[]): number =>
  rackUnits(rack) - takenIn(rack, devices).size

/** The lowest unit at which a device has room among the others; undefined where there is none. */
export function lowestFree(rack: Entity, devices: readonly Device[], device: Device): number | undefined {
  const taken = takenIn(
    rack,
    devices.filter((one) => one !== device),
  )
  const height = heightOf(device.entity)
  for (let from = 1; from + height - 1 <= rackUnits(rack); from++)
    if (Array.from({ length: height }, (_, up) => from + up).every((unit) => !taken.has(unit))) return from
  return undefined
}

function takenIn(rack: Entity, devices: readonly Device[]): Set<number> {
  const taken = new Set<number>()
  for (const device of devices) {
    const span = spanOf(device)
    for (let unit = span?.from ?? 1; span && unit <= Math.min(span.to, rackUnits(rack)); unit++) taken.add(unit)
  }
  return taken
}
