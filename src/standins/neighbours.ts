import { addDays, asDay, covers, daysBetween, type Day, type Id, type Model } from '../core/model'
import { marramSoundFerries } from '../demo'
import { rolled } from './dice'

/**
 * Simulated neighbour tables, as switches and routers keep them by IEEE 802.1AB: the ferry line's port network, in which plugs are moved and
 * devices come that nobody wrote down, day by day. Made up from end to end; the same day always gives the same tables.
 */

/** The day from which on the network has a life of its own. */
const EPOCH = asDay('2026-11-20')
/** It goes on for two years; then it stays as it is. */
const MOST_DAYS = 730

interface Plug {
  readonly device: string
  readonly port: string
}

interface Joined {
  a: Plug
  b: Plug
}

/** What the tables say on a day, in the names of the objects of IEEE 802.1AB, clause 11. O(cables × days since the epoch) */
export function neighbourTables(day: Day): object {
  if (last?.day !== day) last = { day, joined: joinedOn(day) }
  const byDevice = new Map<string, { port: string; other: Plug }[]>()
  const tell = (own: Plug, other: Plug) =>
    byDevice.set(own.device, [...(byDevice.get(own.device) ?? []), { port: own.port, other }])
  for (const { a, b } of last.joined) {
    tell(a, b)
    tell(b, a)
  }
  return {
    lldpSystems: [...byDevice].map(([device, neighbours]) => ({
      lldpLocChassisIdSubtype: 'local',
      lldpLocChassisId: device,
      lldpLocSysName: device,
      lldpRemTable: neighbours.map(({ port, other }) => ({
        lldpLocPortId: port,
        lldpRemChassisIdSubtype: 'local',
        lldpRemChassisId: other.device,
        lldpRemPortIdSubtype: 'interfaceName',
        lldpRemPortId: other.port,
        lldpRemSysName: other.device,
      })),
    })),
  }
}

let last: { readonly day: Day; readonly joined: readonly Joined[] } | undefined

function joinedOn(day: Day): Joined[] {
  const joined = statedOn(marramSoundFerries(), day)
  const days = Math.min(MOST_DAYS, daysBetween(EPOCH, day))
  for (let i = 0; i <= days; i++) liveThrough(joined, addDays(EPOCH, i), i)
  return joined
}

/** Cables of a day between devices that tell their neighbours: those of providers do not. */
function statedOn(model: Model, day: Day): Joined[] {
  const plug = (id: Id): Plug | undefined => {
    const port = model.entities.get(id)
    const device = port && model.entities.get(port.fields['device'] as Id)
    return port && device && covers(device, day) && device.fields['type'] !== 'cloud service'
      ? { device: device.name, port: port.name }
      : undefined
  }
  return model.relationsOfKind('cable').flatMap((cable): Joined[] => {
    const [a, b] = [plug(cable.source), plug(cable.target)]
    return a && b && covers(cable, day) ? [{ a, b }] : []
  })
}

/** About one change in three days: a plug goes into another port, a device comes, or one falls silent. */
function liveThrough(joined: Joined[], day: Day, index: number): void {
  const dice = rolled(index + 1)
  const at = Math.floor(dice(1) * joined.length)
  const chosen = joined[at]
  if (!chosen || index === 0) {
    if (index === 0) joined.push({ a: { device: 'sw-hall', port: 'p4' }, b: { device: 'ap-hall-3', port: 'eth0' } })
    return
  }
  if (dice(0) < 0.14) chosen.a = { ...chosen.a, port: `p${40 + (index % 20)}` }
  else if (dice(0) < 0.24)
    joined.push({
      a: { device: chosen.a.device, port: `p${60 + (index % 30)}` },
      b: { device: `guest-${day}`, port: 'eth0' },
    })
  else if (dice(0) < 0.32) joined.splice(at, 1)
}
