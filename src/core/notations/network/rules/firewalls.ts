import { freeId, type Id } from '../../../model'
import { addEntity, fixAs, removeEntity, setField, type Fix, type Found, numberOf, textOf } from '../../../notation'
import { flowWays, flowWords, sentWords } from '../carried'
import { firewallsOf, isOpen, passageFor, shadowedIn, type Filter } from '../firewall'
import { inNet } from '../edits'
import { type Flow, type Net } from '../structure'
import { topologyOf } from '../topology'
import { finding, inEach, listed } from './found'

export const FIRST_MATCH =
  'The rules of a firewall are asked in their order; the first one that matches decides, and what none matches is denied. Who begins is asked about, of a flow both ways either end: answers come back by themselves.'

/** A rule by its number and name. */
export const ruleWords = ({ entity }: Filter, filters: readonly Filter[]): string =>
  `rule ${filters.findIndex((one) => one.entity === entity) + 1} “${entity.name}”`

export const blocked = inEach(
  {
    id: 'net/blocked',
    severity: 'error',
    title: 'A firewall denies it',
    why: FIRST_MATCH,
    source: 'NIST SP 800-41 Rev. 1, §2.1.1',
  },
  (net, model) => {
    if (net.flows.length === 0) return []
    const firewalls = firewallsOf(net)
    return [...flowWays(topologyOf(net))].flatMap(([flow, way]): Found[] => {
      if (!way) return []
      const { allowed, firewall, by, begun } = passageFor(firewalls, flow, way)
      if (allowed || !firewall) return []
      const filters = firewalls.filtersOf(firewall)
      const what = [flowWords(begun), sentWords(flow), begun === flow ? '' : 'since either end may begin']
        .filter(Boolean)
        .join(', ')
      const why = by
        ? `${ruleWords(by, filters)} of “${firewall.name}” denies it`
        : `no rule of “${firewall.name}” matches it, and what none matches is denied`
      const at = by ? (numberOf(by.entity, 'order') ?? 0) : (numberOf(filters.at(-1)?.entity, 'order') ?? 0) + 1
      return [
        finding(
          `“${what}”: ${why}.`,
          [flow.id, firewall.id, ...(by ? [by.entity.id] : []), flow.from.id, flow.to.id],
          [allowing(net, begun, firewall.id, before(filters, by, at), freeId(model.entities, `allow-${flow.id}`))],
        ),
      ]
    })
  },
)

/** An order just before a rule. */
function before(filters: readonly Filter[], by: Filter | undefined, at: number): number {
  const index = by ? filters.indexOf(by) : -1
  const previous = index > 0 ? numberOf(filters[index - 1]?.entity, 'order') : undefined
  return index < 0 ? at : previous === undefined ? at - 1 : (previous + at) / 2
}

function allowing(net: Net, flow: Flow, firewall: string, order: number, id: Id): Fix {
  const { from, to, relation } = flow
  const protocol = textOf(relation, 'protocol')
  const port = textOf(relation, 'port')
  return fixAs(
    'Add a rule that allows it',
    `Allow ${flowWords(flow)}`,
    addEntity({
      id,
      kind: 'filter',
      name: `${from.name} to ${to.name}`.slice(0, 400),
      fields: {
        device: firewall,
        verdict: 'allow',
        source: from.id,
        destination: to.id,
        ...(protocol === undefined ? {} : { protocol }),
        ...(port === undefined ? {} : { port }),
        ...inNet(net.id),
        order,
      },
    }),
  )
}

export const noRules = inEach(
  {
    id: 'net/no-rules',
    severity: 'note',
    title: 'A firewall of which no rules are stated',
    why: 'What it lets through is not known: nothing is found against what flows through it, and nothing for it.',
  },
  (net) => {
    const firewalls = firewallsOf(net)
    return net.devices
      .filter((device) => device.type === 'firewall' && !firewalls.doesFilter(device))
      .map(({ id, name }) => finding(`No rules of “${name}” are stated: what it lets through is not known.`, [id], []))
  },
)

export const shadowedRule = inEach(
  {
    id: 'net/shadowed-rule',
    severity: 'warning',
    title: 'A rule that can never match',
    why: `${FIRST_MATCH} A rule all of whose packets earlier ones match decides nothing, and misleads who reads it.`,
    source: 'Al-Shaer & Hamed 2004 (shadowing and redundancy)',
  },
  (net) => {
    if (net.filters.length === 0) return []
    const firewalls = firewallsOf(net)
    const seen = new Set<string>()
    return [...firewalls.all].flatMap(([device, filters]): Found[] =>
      shadowedIn(filters).flatMap(({ filter, by }): Found[] => {
        const { entity } = filter
        if (seen.has(entity.id)) return []
        seen.add(entity.id)
        const where = device === undefined ? '' : ` of “${net.byId.get(device)?.name ?? device}”`
        const remove = fixAs('Remove it', `Remove rule “${entity.name}”`, removeEntity(entity.id))
        if (by.length === 0)
          return [
            finding(
              `${capital(ruleWords(filter, filters))}${where} names an end that is no zone, subnet, device or address: it can never match.`,
              [entity.id, ...(device === undefined ? [] : [device])],
              [remove],
            ),
          ]
        const isOpposed = by.some((one) => one.allows !== filter.allows)
        const [first] = by
        const swap =
          by.length === 1 && first && isOpposed
            ? [
                fixAs(
                  'Put it first',
                  `Swap rules “${entity.name}” and “${first.entity.name}”`,
                  setField(entity.id, 'order', numberOf(first.entity, 'order') ?? 0),
                  setField(first.entity.id, 'order', numberOf(entity, 'order') ?? 0),
                ),
              ]
            : []
        return [
          finding(
            `${capital(ruleWords(filter, filters))}${where} can never match: ${listed(by.map((one) => one.entity.name))} before it ${by.length === 1 ? 'takes' : 'take together'} all that it would${isOpposed ? ', and decide otherwise' : ''}.`,
            [entity.id, ...by.map((one) => one.entity.id), ...(device === undefined ? [] : [device])],
            [...swap, remove],
          ),
        ]
      }),
    )
  },
)

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)

export const tooOpen = inEach(
  {
    id: 'net/too-open',
    severity: 'warning',
    title: 'A rule that lets everything through',
    why: 'Whatever comes after it is never asked, and the firewall filters nothing.',
    source: 'NIST SP 800-41 Rev. 1, §4.2',
  },
  (net) => {
    if (net.filters.length === 0) return []
    const firewalls = firewallsOf(net)
    const seen = new Set<string>()
    return [...firewalls.all].flatMap(([device, filters]): Found[] =>
      filters.filter(isOpen).flatMap((filter): Found[] => {
        if (seen.has(filter.entity.id)) return []
        seen.add(filter.entity.id)
        return [
          finding(
            `${capital(ruleWords(filter, filters))}${device === undefined ? '' : ` of “${net.byId.get(device)?.name ?? device}”`} allows anything from anywhere to anywhere.`,
            [filter.entity.id, ...(device === undefined ? [] : [device])],
            [
              fixAs(
                'Make it deny',
                `Rule “${filter.entity.name}” denies`,
                setField(filter.entity.id, 'verdict', 'deny'),
              ),
            ],
          ),
        ]
      }),
    )
  },
)
