import { grouped, type Id } from '../../../model'
import { fixAs, joinFix, setEntity, setField, textOf, type Found } from '../../../notation'
import { finding, inEach, listed } from './found'

/** A hardware address without its marks, in lower case. */
const plainMac = (text: string): string => text.toLowerCase().replace(/[^0-9a-f]/g, '')

export const duplicateMac = inEach(
  {
    id: 'net/duplicate-mac',
    severity: 'warning',
    title: 'A hardware address is there twice',
    why: 'A switch learns one place for each hardware address: with two it forwards now to the one, now to the other.',
    source: 'IEEE 802.1Q, §8.7; IEEE 802, §8',
  },
  (net) => {
    const stated = [...net.ports.values()].filter(({ entity }) => plainMac(textOf(entity, 'mac') ?? '') !== '')
    return [...grouped(stated, ({ entity }) => plainMac(textOf(entity, 'mac') ?? '')).values()].flatMap(
      (ports): Found[] => {
        const [first, ...others] = ports
        if (!first || others.length === 0) return []
        return [
          finding(
            `${textOf(first.entity, 'mac')} is stated at ${listed(ports.map(({ device, name }) => `${device.name} ${name}`))}.`,
            [...ports.map(({ id }) => id), ...ports.map(({ device }) => device.id)],
            [
              fixAs(
                `Clear it at “${others.at(-1)?.device.name} ${others.at(-1)?.name}”`,
                'Clear a hardware address',
                setField(others.at(-1)?.id ?? first.id, 'mac', null),
              ),
            ],
          ),
        ]
      },
    )
  },
)

export const duplicateHostname = inEach(
  {
    id: 'net/duplicate-hostname',
    severity: 'warning',
    title: 'Two devices of one name',
    why: 'A name that means two devices leads to either of them. Names of hosts are the same in capitals and small letters.',
    source: 'RFC 1123, §2.1; RFC 4343',
  },
  (net, model) => {
    const names = new Set(net.devices.map(({ name }) => name.toLowerCase()))
    return [...grouped(net.devices, ({ name }) => name.toLowerCase()).values()].flatMap((devices): Found[] => {
      const [first, ...others] = devices
      const last = others.at(-1)
      if (!first || !last) return []
      let count = 2
      while (names.has(`${last.name.toLowerCase()}-${count}`)) count++
      const name = `${last.name}-${count}`
      return [
        finding(
          `${devices.length} devices are called “${first.name}”.`,
          devices.map(({ id }) => id),
          [
            fixAs(
              `Call the last one “${name}”`,
              `Rename a “${last.name}” to “${name}”`,
              setEntity(last.id, 'name', name),
            ),
            joinFix(model, first.entity, last.entity),
          ],
        ),
      ]
    })
  },
)

const LABEL = /^[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?$/i

/** Why a text is no name of a host. */
function faultOf(name: string): string | undefined {
  if (name.length > 253) return `has ${name.length} characters; 253 is the most`
  const label = name.split('.').find((one) => !LABEL.test(one))
  if (label === undefined) return undefined
  if (label === '') return 'has a part without letters'
  if (label.length > 63) return `has a part of ${label.length} characters; 63 is the most`
  if (/^-|-$/.test(label)) return 'has a part that begins or ends with a hyphen'
  return `has “${/[^a-z0-9-]/i.exec(label)?.[0] ?? label}” in it`
}

/** The nearest text that is a name of a host. */
const tidied = (name: string): string =>
  name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .split('.')
    .map((label) =>
      label
        .replace(/[^a-z0-9-]+/g, '-')
        .slice(0, 63)
        .replace(/^-+|-+$/g, ''),
    )
    .filter(Boolean)
    .join('.')
    .slice(0, 253)

export const badHostname = inEach(
  {
    id: 'net/bad-hostname',
    severity: 'warning',
    title: 'No name for a host',
    why: 'Names of hosts are letters, digits and hyphens, in parts of up to 63 between dots: others cannot be looked up everywhere.',
    source: 'RFC 1123, §2.1; RFC 952',
  },
  (net) =>
    net.devices.flatMap(({ id, name }): Found[] => {
      const fault = faultOf(name)
      if (fault === undefined) return []
      const instead = tidied(name)
      const isTaken = net.devices.some((one) => one.id !== id && one.name.toLowerCase() === instead)
      return [
        finding(
          `“${name.slice(0, 80)}” ${fault}.`,
          [id],
          instead === '' || isTaken
            ? []
            : [
                fixAs(
                  `Call it “${instead}”`,
                  `Rename “${name.slice(0, 80)}” to “${instead}”`,
                  setEntity(id as Id, 'name', instead),
                ),
              ],
        ),
      ]
    }),
)
