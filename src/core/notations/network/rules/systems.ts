import { addDays, covers, dayInWords, type Day, type Entity, type Id, type Model, type Relation } from '../../../model'
import { COMMON, fixAs, removeRelation, setEntity, type Found, type Rule } from '../../../notation'
import { finding } from './found'

const hostsOn = (model: Model, day: Day): Relation[] => model.relationsOfKind('hosts').filter((tie) => covers(tie, day))

/** Whether a device is still used on a day: it hosts what is in use, or a cable leads to one of its ports. */
function useOf(model: Model, device: Entity, ports: ReadonlyMap<Id, readonly Entity[]>, day: Day): string | undefined {
  const hosted = model
    .leaving(device.id, 'hosts')
    .filter((tie) => covers(tie, day))
    .flatMap(({ target }) => model.entities.get(target) ?? [])
    .filter((system) => covers(system, day))
  if (hosted.length > 0) return `hosts ${hosted.map(({ name }) => `“${name}”`).join(', ')}`
  const isCabled = ports
    .get(device.id)
    ?.some(({ id }) =>
      [...model.leaving(id, 'cable'), ...model.reaching(id, 'cable')].some((cable) => covers(cable, day)),
    )
  return isCabled === true ? 'is still cabled' : undefined
}

export const endOfSupport: Rule = {
  id: 'net/end-of-support',
  severity: 'warning',
  title: 'In use after its support ended',
  why: 'A device past its last day is no longer mended when a fault is found in it.',
  source: COMMON,
  check: (model, day) => {
    const past = model.ofKind('device').filter(({ to }) => to !== undefined && to < day)
    if (past.length === 0) return []
    const ports = new Map<Id, Entity[]>()
    for (const port of model.ofKind('port')) {
      const device = port.fields['device'] as Id
      const list = ports.get(device) ?? []
      ports.set(device, list)
      list.push(port)
    }
    return past.flatMap((device): Found[] => {
      const use = useOf(model, device, ports, day)
      if (use === undefined || device.to === undefined) return []
      return [finding(`“${device.name}” ended on ${dayInWords(device.to)} and ${use}.`, [device.id])]
    })
  },
}

export const hostRetired: Rule = {
  id: 'x/host-retired',
  severity: 'warning',
  title: 'A system on a device that goes',
  why: 'A system that is in use needs a device to run on: one past its support may fail unmended, and one that a task takes away before another one hosts the system stops it.',
  source: COMMON,
  check: (model, day) =>
    hostsOn(model, day).flatMap((tie): Found[] => {
      const [device, system] = [model.entities.get(tie.source), model.entities.get(tie.target)]
      if (!device || !system || !covers(system, day)) return []
      const take = fixAs(
        `“${device.name}” no longer hosts it`,
        `“${device.name}” no longer hosts “${system.name}”`,
        removeRelation(tie.id),
      )
      if (device.to !== undefined && device.to < day)
        return [
          finding(
            `“${system.name}” runs on “${device.name}”, which ended on ${dayInWords(device.to)}.`,
            [system.id, device.id, tie.id],
            [take],
          ),
        ]
      // A device that ends while the system goes on, with nothing else to host it then.
      const { to } = device
      const ends = tie.to ?? to
      if (to === undefined || ends === undefined || (system.to !== undefined && system.to <= to)) return []
      const after = addDays(to, 1)
      const isHosted = model
        .reaching(system.id, 'hosts')
        .some((other) => other.id !== tie.id && covers(other, after) && isThere(model, other.source, after))
      if (isHosted) return []
      return [
        finding(
          `“${system.name}” runs on “${device.name}” until ${dayInWords(to)}, and nothing hosts it after that.`,
          [system.id, device.id, tie.id],
          [
            fixAs(
              `Let “${device.name}” stay`,
              `Clear the last day of “${device.name}”`,
              setEntity(device.id, 'to', null),
            ),
          ],
        ),
      ]
    }),
}

const isThere = (model: Model, id: Id, day: Day): boolean => {
  const entity = model.entities.get(id)
  return entity !== undefined && covers(entity, day)
}

export const unhostedSystem: Rule = {
  id: 'x/unhosted-system',
  severity: 'note',
  title: 'A system that runs on nothing',
  why: 'Nobody can tell what happens to it when a device fails.',
  source: COMMON,
  check: (model, day) => {
    // Where nothing is hosted at all, devices are not what the facts are about.
    if (hostsOn(model, day).length === 0) return []
    return model.ofKind('system').flatMap((system): Found[] => {
      if (!covers(system, day)) return []
      const isHosted = model.reaching(system.id, 'hosts').some((tie) => covers(tie, day))
      return isHosted ? [] : [finding(`No device hosts “${system.name}”.`, [system.id])]
    })
  },
}
