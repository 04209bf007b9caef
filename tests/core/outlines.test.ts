import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { apply, asDay, Model, type Entity, type Fields, type Id, type Relation, type View } from '../../src/core/model'
import { listText, type Notation } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import { ruleName } from '../../src/core/notations/network/telling'
import { DAY, id, numbering } from '../facts'

/** Names that look like something else in one outline or another, and any others. */
const LOOKALIKES =
  `Check|end|start: x|A & B|x — y|vacant|Open|1. first|- dash|a) b|1.2 x|Really?|a @ b|go to Check|line 3|join|join all: x
"quoted"|Ann "A" B|"|""|a"b|two  spaces|5d|after 3|milestone|milestone: x|group: x|task: x|by 2027-01-01|from 2027-01-18|yes 50 %|50 %
(assistant)|Head (acting)|[Fleet]|x [y]|(minor)|1887|to 1900 x|…|apart: x|during x: y|way: out|–|—|a, b|x: go to y|otherwise|else
rest (otherwise)|(zone)|x  (zone, trust low)|(subnet 10.0.0.0/24)|a to b c|port p|p1|flow to x|flow to x y|hosts x|sw-1 #2|10.0.0.1|x firewall|switch
allow tcp 443 from a to b|deny any from any to any|any|critical|at x|in A1 u 2|called: x|model: y|since 2027-01-01|10G|x critical|x 10.0.0.1/24
on x|on hold -> b|-> x|[a] -> b|/ y|on a [b] / c|(initial)|final|x  (choice)|x  entry: y|after 3 -> x|a #2|→ b
either|or x|if a|while|at once|meanwhile y|a asks b|a tells b: c|x ends y|a : b|c:|b (actor)|(lifeline)|…|at once b
includes a|extends b|is a c|x  (subject)|a: b|x  if: y|(use case)
provides a|requires b|port c|deploys d|x  (node)|x  (component)
x  (strong)|x (40 %)|(done)|x  (at 1 2)|= people|x  = people with y|x  <https://a.b>|<#a>|a & b|(open, 3)|x  (picture p)
wait for: x|by hand: x|system|subprocess: x|step|step: x|Unnamed|Untitled|New task|New event|at once|decide: x|@ me|x 3h|◆ x`.split(
    /[|\n]/,
  )
const name = fc
  .oneof(fc.constantFrom(...LOOKALIKES), fc.string({ minLength: 1, maxLength: 12, unit: 'grapheme' }))
  .map((text) => text.replace(/[\p{C}\p{Zl}\p{Zp}]/gu, '').replace(/\s/g, ' '))
  .filter((text) => text.trim() !== '')
const names = (count: number) =>
  fc.uniqueArray(name, { minLength: count, maxLength: count, selector: (text) => text.toLowerCase().trim() })

const entity = (key: string, kind: string, called: string, fields: Fields): Entity => ({
  id: id(key),
  kind,
  name: called,
  fields,
})
const view = (notation: string, picture: string, scope: View['scope']): View => ({
  id: id('view'),
  notation,
  picture,
  title: 'Of a test',
  order: 1,
  scope,
  options: {},
  pins: {},
  look: {},
})

const chosen = <T>(bits: number, bit: number, value: T) => ((bits & bit) === 0 ? undefined : value)
const stated = (fields: Record<string, Fields[string] | undefined>): Fields =>
  Object.fromEntries(
    Object.entries(fields).flatMap(([key, value]): [string, Fields[string]][] =>
      value === undefined ? [] : [[key, value]],
    ),
  )

interface Case {
  readonly model: Model
  /** What is there already where the list is read: facts that it names and does not state. */
  readonly ground: readonly Entity[]
}

interface Law {
  readonly says: string
  readonly notation: string
  readonly view: View
  readonly cases: fc.Arbitrary<Case>
  /** What an outline states of the facts, however they are identified. */
  readonly stated: (model: Model, lines: readonly Id[]) => unknown
}

const sorted = (list: readonly unknown[]) => list.map((one) => JSON.stringify(one)).sort()
const picked = ({ fields }: Entity | Relation, ...keys: readonly string[]) =>
  Object.fromEntries(keys.flatMap((key) => (fields[key] === undefined ? [] : [[key, fields[key]]])))

/** Positions, each below one before it or a head, held by nobody, one or two. */
const organisations = fc
  .array(fc.record({ up: fc.nat(5), assists: fc.boolean(), held: fc.nat(2), acting: fc.nat(3) }), {
    minLength: 1,
    maxLength: 7,
  })
  .chain((posts) => names(posts.length * 3).map((called) => ({ posts, called })))
  .map(({ posts, called }): Case => {
    const entities: Entity[] = []
    const relations: Relation[] = []
    posts.forEach(({ up, assists, held, acting }, at) => {
      entities.push(entity(`p${at}`, 'position', called[at * 3] ?? '', { order: at }))
      if (up < at) {
        const kind = assists ? 'assists' : 'reports-to'
        relations.push({ id: id(`up${at}`), kind, source: id(`p${at}`), target: id(`p${up}`), fields: {} })
      }
      for (let one = 1; one <= held; one++) {
        const isActing = (acting & one) > 0
        entities.push(entity(`h${at}-${one}`, 'person', called[at * 3 + one] ?? '', {}))
        const fields: Fields = isActing ? { acting: true } : {}
        relations.push({
          id: id(`holds${at}-${one}`),
          kind: 'holds',
          source: id(`h${at}-${one}`),
          target: id(`p${at}`),
          fields,
        })
      }
    })
    return { model: Model.of({ entities, relations }), ground: [] }
  })

/** Elements with any flows between them, in lanes; there is an end, for a process without one is given one. */
const processes = fc
  .record({
    nodes: fc.array(
      fc.record({
        what: fc.nat(10),
        lane: fc.nat(3),
        outs: fc.array(fc.nat(8), { maxLength: 3 }),
        unnamed: fc.nat(4),
        during: fc.nat(12),
      }),
      { minLength: 1, maxLength: 8 },
    ),
    flows: fc.array(
      fc.record({
        label: fc.option(name),
        share: fc.option(fc.nat(1000)),
        otherwise: fc.boolean(),
        plain: fc.boolean(),
      }),
      { minLength: 24, maxLength: 24 },
    ),
  })
  .chain((drawn) => names(drawn.nodes.length + 3).map((called) => ({ ...drawn, called })))
  .map(({ nodes, flows, called }): Case => {
    const SORTS = [
      ['step', 'task'],
      ['step', 'task'],
      ['step', 'user task'],
      ['step', 'manual task'],
      ['step', 'subprocess'],
      ['event', 'start'],
      ['event', 'intermediate'],
      ['gateway', 'exclusive'],
      ['gateway', 'parallel'],
      ['gateway', 'inclusive'],
      ['gateway', 'event-based'],
    ] as const
    const all = [...nodes, { what: -1, lane: 3, outs: [], unnamed: 1, during: 99 }]
    const process = 'process'
    const entities: Entity[] = [entity('process', 'process', 'P', {})]
    const relations: Relation[] = []
    for (let lane = 0; lane < 3; lane++)
      entities.push(entity(`l${lane}`, 'lane', called[nodes.length + lane] ?? '', { process, order: lane }))
    let count = 0
    all.forEach(({ what, lane, outs, unnamed, during }, at) => {
      const [kind, type] = SORTS[what] ?? (['event', 'end'] as const)
      entities.push(
        entity(`n${at}`, kind, unnamed === 0 ? 'Unnamed' : (called[at] ?? 'Done'), { process, type, order: at }),
      )
      if (lane < 3)
        relations.push({
          id: id(`in${at}`),
          kind: 'performed-in',
          source: id(`n${at}`),
          target: id(`l${lane}`),
          fields: {},
        })
      outs.forEach((to) => {
        const { label = null, share = null, otherwise = false, plain = true } = flows[count++] ?? {}
        const fields = plain
          ? { order: count }
          : {
              order: count,
              ...(label === null ? {} : { label }),
              ...(share === null ? {} : { share: share / 1000 }),
              ...(otherwise ? { default: true } : {}),
            }
        const target = to % all.length
        // Labels that say “otherwise” are the way for all others.
        const means = /^(otherwise|else)$/i.test(String(label)) && !plain ? { default: true } : {}
        relations.push({
          id: id(`f${count}`),
          kind: 'flow',
          source: id(`n${at}`),
          target: id(`n${target}`),
          fields: { ...fields, ...means },
        })
      })
      const host = all[during]
      if (type === 'intermediate' && host && SORTS[host.what]?.[0] === 'step')
        relations.push({
          id: id(`d${at}`),
          kind: 'attached-to',
          source: id(`n${at}`),
          target: id(`n${during}`),
          fields: during % 2 ? { goesOn: true } : {},
        })
    })
    return { model: Model.of({ entities, relations }), ground: [] }
  })

const moment = fc.constantFrom('2027-01-18', '2027-02-26', '2027-03-01T13:00')
const DURATIONS = ['5d', '4h', '30min', '2w', '1.5d', '0d', undefined]

/** Groups, tasks and milestones with links to what stands before them, and people on them. */
const plans = fc
  .array(
    fc.record({
      group: fc.nat(4),
      what: fc.nat(3),
      duration: fc.constantFrom(...DURATIONS),
      after: fc.array(
        fc.record({
          to: fc.nat(9),
          type: fc.constantFrom('FS', 'SS', 'FF', 'SF'),
          lag: fc.constantFrom('2d', '-1d', undefined),
        }),
        { maxLength: 2 },
      ),
      who: fc.array(fc.record({ who: fc.nat(2), units: fc.constantFrom(undefined, 0.5, 0.125) }), { maxLength: 2 }),
      from: fc.option(moment),
      by: fc.option(moment),
    }),
    { minLength: 1, maxLength: 9 },
  )
  .chain((works) => names(works.length + 3).map((called) => ({ works, called })))
  .map(({ works, called }): Case => {
    const plan = 'plan'
    const KINDS = ['group', 'task', 'milestone', 'task']
    const people = ['person', 'role', 'person'].map((kind, at) =>
      entity(`w${at}`, kind, called[works.length + at] ?? '', {}),
    )
    const entities: Entity[] = [entity('plan', 'plan', 'P', {}), ...people]
    const relations: Relation[] = []
    const within = new Map<number, number>()
    works.forEach(({ what, group, duration, from, by, after, who }, at) => {
      const kind = KINDS[what] ?? 'task'
      if (group < at && KINDS[works[group]?.what ?? 1] === 'group') within.set(at, group)
      entities.push(
        entity(`t${at}`, kind, called[at] ?? '', {
          plan,
          order: at,
          ...(within.has(at) ? { group: `t${group}` } : {}),
          ...(kind === 'task' && duration ? { duration } : {}),
          ...(kind !== 'group' && from ? { constraint: 'start no earlier', on: from } : {}),
          ...(kind !== 'group' && by ? { deadline: by } : {}),
        }),
      )
      if (kind !== 'group')
        for (const { who: one, units } of new Map(who.map((share) => [share.who, share])).values())
          relations.push({
            id: id(`a${at}-${one}`),
            kind: 'assigned',
            source: id(`w${one}`),
            target: id(`t${at}`),
            fields: units === undefined ? {} : { units },
          })
      const isAround = (one: number) => {
        for (let up = within.get(at); up !== undefined; up = within.get(up)) if (up === one) return true
        return false
      }
      for (const { to, type, lag } of new Map(after.map((link) => [link.to, link])).values())
        if (to < at && !isAround(to) && KINDS[works[to]?.what ?? 1] !== 'group' && kind !== 'group')
          relations.push({
            id: id(`l${at}-${to}`),
            kind: 'precedes',
            source: id(`t${to}`),
            target: id(`t${at}`),
            fields: { ...(type === 'FS' ? {} : { type }), ...(lag ? { lag } : {}) },
          })
    })
    return { model: Model.of({ entities, relations }), ground: people }
  })

/** Events and eras, main and minor, in bands. */
const timelines = fc
  .array(
    fc.record({
      called: name,
      when: fc.constantFrom('-0043', '1887', '1887-05', '1935-05-14'),
      until: fc.option(fc.constantFrom('1940', '2001-03')),
      band: fc.option(name),
      main: fc.boolean(),
    }),
    { minLength: 1, maxLength: 6 },
  )
  .map((events): Case => ({
    ground: [],
    model: Model.of({
      entities: events.map(({ called, when, until, band, main }, at) =>
        entity(`e${at}`, until === null ? 'event' : 'era', called, {
          when,
          ...(until === null ? {} : { until }),
          ...(band === null ? {} : { band: band.trim() }),
          weight: main ? 'main' : 'minor',
        }),
      ),
    }),
  }))

/** What each line is about, by its place: relations are told by the places of their ends. */
const placesIn = (lines: readonly Id[]) => (one: Id) => lines.indexOf(one)

const TYPES = ['router', 'switch', 'firewall', 'server', 'access point', undefined] as const

/** Devices in zones with ports, cables, flows and rules between any of them; the same name may be there twice. */
const networks = fc
  .record({
    zones: fc.array(fc.constantFrom('none', 'low', 'high', undefined), { maxLength: 3 }),
    devices: fc.array(
      fc.record({
        zone: fc.nat(4),
        type: fc.constantFrom(...TYPES),
        ports: fc.array(
          fc.record({ speed: fc.constantFrom(undefined, 100, 1000, 2500, 1536.5, 40_000), told: fc.boolean() }),
          { maxLength: 3 },
        ),
        like: fc.nat(9),
        more: fc.nat(31),
      }),
      { minLength: 1, maxLength: 6 },
    ),
    ties: fc.array(fc.record({ from: fc.nat(20), to: fc.nat(20), more: fc.nat(63) }), { maxLength: 8 }),
    filters: fc.array(fc.record({ device: fc.nat(9), from: fc.nat(12), to: fc.nat(12), more: fc.nat(31) }), {
      maxLength: 4,
    }),
    subnets: fc.array(fc.nat(31), { maxLength: 3 }),
  })
  .chain((drawn) => names(60).map((called) => ({ ...drawn, called })))
  .map(({ zones, devices, ties, filters, subnets, called }): Case => {
    const entities: Entity[] = [entity('net', 'network', 'The network', {})]
    const relations: Relation[] = []
    let next = 0
    const fresh = () => called[next++ % called.length] ?? 'x'
    const own = { network: id('net') }
    zones.forEach((trust, at) => entities.push(entity(`z${at}`, 'zone', fresh(), stated({ trust, order: at, ...own }))))
    const [rack, site, system] = ['rack', 'site', 'system'].map((kind) => entity(kind, kind, fresh(), {}))
    subnets.forEach((more, at) => {
      const prefix = `10.${at}.0.0/2${more % 5}`
      const zone = more % 4 < zones.length ? `z${more % 4}` : undefined
      const fields = {
        prefix,
        vlan: chosen(more, 1, 20 + at),
        gateway: chosen(more, 2, `10.${at}.0.1`),
        vrf: chosen(more, 4, fresh()),
        zone,
      }
      entities.push(
        entity(`n${at}`, 'subnet', (more & 8) === 0 ? prefix : fresh(), stated({ ...fields, order: at, ...own })),
      )
    })
    const ports: string[] = []
    devices.forEach(({ zone, type, ports: list, like, more }, at) => {
      const twin = like < at ? entities.find(({ id: one }) => one === `d${like}`)?.name : undefined
      const fields = {
        type,
        zone: zone < zones.length ? `z${zone}` : undefined,
        critical: chosen(more, 1, true as const),
        model: chosen(more, 2, fresh()),
        mtbf: chosen(more, 4, 80_000),
        addresses: chosen(more, 8, [`10.0.0.${at}/24`, `2001:db8::${at}/64`]),
        rack: rack && chosen(more, 16, rack.id as string),
        unit: chosen(more, 16, 4),
      }
      entities.push(entity(`d${at}`, 'device', twin ?? fresh(), stated({ ...fields, order: at, ...own })))
      if (site && (more & 3) === 3)
        relations.push({ id: id(`at${at}`), kind: 'located-at', source: id(`d${at}`), target: site.id, fields: {} })
      if (system && (more & 5) === 5)
        relations.push({ id: id(`host${at}`), kind: 'hosts', source: id(`d${at}`), target: system.id, fields: {} })
      list.forEach(({ speed, told }, port) => {
        const name = port > 0 && told ? (entities.at(-1)?.name ?? 'p') : fresh()
        ports.push(`p${at}-${port}`)
        entities.push(entity(`p${at}-${port}`, 'port', name, stated({ device: `d${at}`, speed, order: port })))
      })
    })
    ties.forEach(({ from, to, more }, at) => {
      const [a, b] = [ports[from % Math.max(1, ports.length)], ports[to % Math.max(1, ports.length)]]
      if ((more & 1) === 0 && a !== undefined && b !== undefined && a !== b) {
        const fields = {
          capacity: chosen(more, 2, 10_000),
          length: chosen(more, 4, 12),
          medium: chosen(more, 8, 'copper'),
          label: chosen(more, 16, fresh()),
        }
        relations.push({
          id: id(`c${at}`),
          kind: 'cable',
          source: id(a),
          target: id(b),
          fields: stated(fields),
          ...((more & 32) === 0 ? {} : { from: asDay('2026-01-01') }),
        })
      } else {
        const fields = {
          protocol: chosen(more, 2, 'tcp'),
          port: chosen(more, 2, '443'),
          load: chosen(more, 4, 40),
          needed: chosen(more, 8, true as const),
          direction: chosen(more, 16, 'both ways'),
        }
        relations.push({
          id: id(`f${at}`),
          kind: 'traffic',
          source: id(`d${from % devices.length}`),
          target: id(`d${to % devices.length}`),
          fields: stated(fields),
        })
      }
    })
    const end = (number: number): string | undefined =>
      number < zones.length
        ? `z${number}`
        : number - 3 >= 0 && number - 3 < devices.length
          ? `d${number - 3}`
          : number > 9
            ? '10.0.0.0/8'
            : undefined
    filters.forEach(({ device, from, to, more }, at) => {
      const fields = {
        verdict: (more & 1) === 0 ? 'deny' : 'allow',
        protocol: chosen(more, 2, 'udp'),
        port: chosen(more, 2, '53, 100-200'),
        source: end(from),
        destination: end(to),
        device: device < devices.length ? `d${device}` : undefined,
      }
      entities.push(
        entity(
          `r${at}`,
          'filter',
          (more & 4) === 0 ? fresh() : ruleName({ fields: stated(fields) }),
          stated({ ...fields, order: at, ...own }),
        ),
      )
    })
    if (rack) entities.push(rack)
    if (site) entities.push(site)
    if (system) entities.push(system)
    return { model: Model.of({ entities, relations, views: [] }), ground: system ? [system] : [] }
  })

/** Packages within one another, classes of all sorts with members of all sorts, and ties between any of them. */
const classModels = fc
  .record({
    packages: fc.array(fc.nat(3), { maxLength: 3 }),
    classes: fc.array(
      fc.record({
        home: fc.nat(4),
        form: fc.constantFrom(undefined, 'interface', 'enumeration', 'data type', 'primitive', 'signal'),
        members: fc.array(fc.tuple(fc.constantFrom('attribute', 'operation', 'literal'), fc.nat(1023)), {
          maxLength: 4,
        }),
        like: fc.nat(20),
        more: fc.nat(63),
      }),
      { minLength: 1, maxLength: 5 },
    ),
    ties: fc.array(fc.record({ from: fc.nat(9), to: fc.nat(9), sort: fc.nat(3), more: fc.nat(8191) }), {
      maxLength: 8,
    }),
  })
  .chain((drawn) => names(90).map((called) => ({ ...drawn, called })))
  .map(({ packages, classes, ties, called }): Case => {
    const entities: Entity[] = []
    const relations: Relation[] = []
    let used = 0
    const fresh = () => called[used++ % called.length] ?? ''
    packages.forEach((home, at) =>
      entities.push(
        entity(`k${at}`, 'package', fresh(), stated({ package: home < at ? `k${home}` : undefined, order: at })),
      ),
    )
    classes.forEach(({ home, form, members, like, more }, at) => {
      const twin = like < at ? entities.find(({ id: one }) => one === `c${like}`)?.name : undefined
      const fields = {
        form,
        abstract: chosen(more, 1, true as const),
        leaf: chosen(more, 2, true as const),
        stereotypes: chosen(more, 4, ['entity', fresh()]),
        table: chosen(more, 8, fresh()),
        system: chosen(more, 16, fresh()),
        package: home < packages.length ? `k${home}` : undefined,
      }
      entities.push(entity(`c${at}`, 'class', twin ?? fresh(), stated({ ...fields, order: at })))
      members.forEach(([kind, what], place) => {
        const visibility = [undefined, 'public', 'private', 'protected', 'package'][what % 5]
        const own =
          kind === 'literal'
            ? {}
            : {
                visibility,
                type: chosen(what, 2, 'Map<String, Leg>'),
                multiplicity: chosen(what, 4, '0..*'),
                static: chosen(what, 8, true as const),
                properties: chosen(what, 16, ['ordered', 'subsets all']),
                ...(kind === 'operation'
                  ? {
                      parameters: chosen(what, 32, 'a : Integer, out b : Leg [*] = none'),
                      abstract: chosen(what, 64, true as const),
                    }
                  : { default: chosen(what, 32, '"a, b"'), derived: chosen(what, 64, true as const) }),
              }
        const dated = (what & 128) === 0 ? {} : { from: asDay('2026-01-01'), to: asDay('2027-01-01') }
        entities.push({
          ...entity(`m${at}-${place}`, kind, fresh(), stated({ ...own, class: `c${at}`, order: place })),
          ...dated,
        })
      })
    })
    ties.forEach(({ from, to, sort, more }, at) => {
      const kind = ['association', 'generalization', 'realization', 'dependency'][sort] ?? ''
      const isOfPackages = kind === 'dependency' && packages.length > 0 && (more & 1) === 1
      const [letter, count] = isOfPackages ? ['k', packages.length] : ['c', classes.length]
      const fields =
        kind === 'association'
          ? {
              label: chosen(more, 1, fresh()),
              aggregation: [undefined, 'shared', 'composite'][more % 3],
              sourceRole: chosen(more, 2, fresh()),
              sourceMultiplicity: chosen(more, 4, '0..1'),
              sourceNavigable: [undefined, 'yes', 'no'][(more >> 4) % 3],
              sourceProperties: chosen(more, 8, ['ordered']),
              targetRole: chosen(more, 64, fresh()),
              targetMultiplicity: chosen(more, 128, '2..MAX'),
              targetNavigable: [undefined, 'yes', 'no'][(more >> 8) % 3],
              targetProperties: chosen(more, 1024, ['unique', 'redefines x']),
            }
          : kind === 'dependency'
            ? { keyword: [undefined, 'use', 'import', fresh()][more % 4] }
            : {}
      relations.push({
        id: id(`t${at}`),
        kind,
        source: id(`${letter}${from % count}`),
        target: id(`${letter}${to % count}`),
        fields: stated(fields),
        ...((more & 2048) === 0 ? {} : { from: asDay('2026-01-01') }),
      })
    })
    return { model: Model.of({ entities, relations, views: [] }), ground: [] }
  })

/** States of every sort within one another and in regions, with whatever is written at what leads on. */
const stateMachines = fc
  .record({
    states: fc.array(
      fc.record({ form: fc.nat(14), within: fc.nat(9), region: fc.nat(3), does: fc.nat(15), unnamed: fc.boolean() }),
      { minLength: 1, maxLength: 8 },
    ),
    leads: fc.array(fc.record({ from: fc.nat(9), to: fc.nat(9), parts: fc.nat(15), dated: fc.nat(3) }), {
      maxLength: 8,
    }),
    texts: fc.array(name, { minLength: 30, maxLength: 30 }),
  })
  .chain((plan) => names(plan.states.length + 3).map((called) => ({ ...plan, called })))
  .map(({ states, leads, texts, called }): Case => {
    const FORMS = [
      'initial',
      'final',
      'choice',
      'junction',
      'fork',
      'join',
      'history',
      'deep history',
      'terminate',
    ] as const
    const machine = 'machine'
    const entities: Entity[] = [entity('machine', 'machine', 'M', {})]
    const relations: Relation[] = []
    const text = (at: number) => (texts[at % texts.length] ?? '').trim()
    states.forEach(({ form, within, region, does, unnamed }, at) => {
      const sort = FORMS[form]
      const outer = within < at && FORMS[states[within]?.form ?? 0] === undefined ? within : undefined
      const holder = outer === undefined ? undefined : region === 3 ? `r${outer}` : `s${outer}`
      if (holder?.startsWith('r') === true && !entities.some((one) => one.id === holder))
        entities.push(
          entity(holder, 'region', (called[states.length + (outer ?? 0)] ?? `R${outer ?? 0}`).trim(), {
            machine,
            within: `s${outer ?? 0}`,
            order: at,
          }),
        )
      entities.push(
        entity(
          `s${at}`,
          'state',
          sort !== undefined && unnamed ? sort : (called[at] ?? '').trim(),
          stated({
            form: sort,
            machine,
            within: holder,
            order: at,
            entry: chosen(does, 1, text(at)),
            do: chosen(does, 2, text(at + 1)),
            exit: chosen(does, 4, text(at + 2)),
          }),
        ),
      )
    })
    leads.forEach(({ from, to, parts, dated }, at) => {
      const [source, target] = [from % states.length, to % states.length]
      const isInternal = source === target && (parts & 8) > 0 && (parts & 1) > 0
      relations.push({
        id: id(`t${at}`),
        kind: 'transition',
        source: id(`s${source}`),
        target: id(`s${target}`),
        fields: stated({
          trigger: chosen(parts, 1, text(at)),
          guard: chosen(parts, 2, text(at + 7)),
          effect: chosen(parts, 4, text(at + 14)),
          internal: isInternal ? true : undefined,
        }),
        ...(dated === 1 ? { from: asDay('2020-01-01') } : {}),
        ...(dated === 2 ? { to: asDay('2031-01-01') } : {}),
      })
    })
    return { model: Model.of({ entities, relations }), ground: [] }
  })

/** Messages of every sort in fragments within fragments, between lifelines that may have one name. */
const sequences = fc
  .record({
    lifelines: fc.array(fc.record({ actor: fc.boolean(), dated: fc.nat(5) }), { minLength: 1, maxLength: 4 }),
    events: fc.array(
      fc.record({
        what: fc.nat(12),
        from: fc.nat(5),
        to: fc.nat(5),
        within: fc.nat(9),
        says: fc.option(name),
        dated: fc.nat(5),
      }),
      { minLength: 1, maxLength: 9 },
    ),
  })
  .chain((plan) => names(plan.lifelines.length).map((called) => ({ ...plan, called })))
  .map(({ lifelines, events, called }): Case => {
    const interaction = 'interaction'
    const SORTS = ['asks', 'tells', 'answers', 'makes', 'ends'] as const
    const OPERANDS = ['either', 'or', 'if', 'while', 'at once', 'meanwhile'] as const
    const dates = (dated: number) =>
      dated === 1 ? { from: asDay('2020-01-01') } : dated === 2 ? { to: asDay('2031-01-01') } : {}
    const entities: Entity[] = [entity('interaction', 'interaction', 'I', {})]
    lifelines.forEach(({ actor, dated }, at) =>
      entities.push({
        ...entity(`l${at}`, 'lifeline', (called[at] ?? '').trim(), {
          ...(actor ? { actor: true } : {}),
          interaction,
          order: at,
        }),
        ...dates(dated),
      }),
    )
    events.forEach(({ what, from, to, within, says, dated }, at) => {
      const operand = OPERANDS[what]
      const holder: Fields =
        within < at && OPERANDS[events[within]?.what ?? 99] !== undefined ? { within: `e${within}` } : {}
      const common = { ...holder, interaction, order: at }
      const words = says === null ? '…' : says.trim()
      entities.push({
        ...(operand === undefined
          ? entity(`e${at}`, 'call', words, {
              from: `l${from % lifelines.length}`,
              to: `l${to % lifelines.length}`,
              ...(what % 5 === 0 ? {} : { sort: SORTS[what % 5] ?? 'asks' }),
              ...common,
            })
          : entity(`e${at}`, 'operand', words, { sort: operand, ...common })),
        ...dates(dated),
      })
    })
    return { model: Model.of({ entities }), ground: [] }
  })

/** Actors, subjects and use cases with every tie there is between them. */
const useCases = fc
  .record({
    actors: fc.array(fc.nat(5), { maxLength: 3 }),
    subjects: fc.nat(2),
    cases: fc.array(fc.record({ subject: fc.nat(3), dated: fc.nat(5) }), { minLength: 1, maxLength: 5 }),
    ties: fc.array(
      fc.record({ what: fc.nat(4), a: fc.nat(9), b: fc.nat(9), says: fc.option(name), dated: fc.nat(5) }),
      {
        maxLength: 8,
      },
    ),
  })
  .chain((plan) => names(plan.actors.length + plan.subjects + plan.cases.length).map((called) => ({ ...plan, called })))
  .map(({ actors, subjects, cases, ties, called }): Case => {
    const dates = (dated: number) =>
      dated === 1 ? { from: asDay('2020-01-01') } : dated === 2 ? { to: asDay('2031-01-01') } : {}
    let count = 0
    const next = () => (called[count++] ?? '').trim()
    const entities: Entity[] = [
      ...actors.map((dated, at) => ({ ...entity(`a${at}`, 'actor', next(), { order: at }), ...dates(dated) })),
      ...Array.from({ length: subjects }, (_, at) => entity(`j${at}`, 'subject', next(), { order: at })),
      ...cases.map(({ subject, dated }, at) => ({
        ...entity(`u${at}`, 'use-case', next(), {
          ...(subject < subjects ? { subject: `j${subject}` } : {}),
          order: at,
        }),
        ...dates(dated),
      })),
    ]
    const relations = ties.flatMap(({ what, a, b, says, dated }, at): Relation[] => {
      const kind =
        (['participation', 'include', 'extend', 'generalization', 'generalization'] as const)[what] ?? 'include'
      const isOfActors = what === 4
      if ((kind === 'participation' || isOfActors) && actors.length === 0) return []
      const of = (sort: 'a' | 'u', nth: number) => id(`${sort}${nth % (sort === 'a' ? actors.length : cases.length)}`)
      return [
        {
          id: id(`t${at}`),
          kind,
          source: of(kind === 'participation' || isOfActors ? 'a' : 'u', a),
          target: of(isOfActors ? 'a' : 'u', b),
          fields: kind === 'extend' && says !== null ? { condition: says.trim() } : {},
          ...dates(dated),
        },
      ]
    })
    return { model: Model.of({ entities, relations }), ground: [] }
  })

/** Components with ports and interfaces, and nodes within nodes. */
const componentModels = fc
  .record({
    components: fc.array(fc.nat(5), { minLength: 1, maxLength: 4 }),
    ports: fc.array(fc.nat(3), { maxLength: 3 }),
    nodes: fc.array(fc.nat(5), { maxLength: 4 }),
    ties: fc.array(fc.record({ what: fc.nat(5), a: fc.nat(9), b: fc.nat(9), dated: fc.nat(5) }), { maxLength: 9 }),
  })
  .chain((plan) =>
    names(plan.components.length + plan.ports.length + plan.nodes.length + 2).map((called) => ({ ...plan, called })),
  )
  .map(({ components, ports, nodes, ties, called }): Case => {
    const dates = (dated: number) =>
      dated === 1 ? { from: asDay('2020-01-01') } : dated === 2 ? { to: asDay('2031-01-01') } : {}
    let count = 0
    const next = () => (called[count++] ?? '').trim()
    const interfaces = [0, 1].map((at) => entity(`i${at}`, 'class', next(), { form: 'interface', order: at }))
    const entities: Entity[] = [
      ...components.map((dated, at) => ({ ...entity(`c${at}`, 'component', next(), { order: at }), ...dates(dated) })),
      ...ports.map((of, at) =>
        entity(`p${at}`, 'component-port', next(), { component: `c${of % components.length}`, order: at }),
      ),
      ...nodes.map((within, at) =>
        entity(`n${at}`, 'deployment-node', next(), { ...(within < at ? { within: `n${within}` } : {}), order: at }),
      ),
    ]
    const relations = ties.flatMap(({ what, a, b, dated }, at): Relation[] => {
      const [kind, from, to] = (
        [
          ['provides', 'c', 'i'],
          ['requires', 'c', 'i'],
          ['provides', 'p', 'i'],
          ['requires', 'p', 'i'],
          ['deploys', 'n', 'c'],
          ['dependency', 'c', 'c'],
        ] as const
      )[what] ?? ['dependency', 'c', 'c']
      const size = { c: components.length, p: ports.length, n: nodes.length, i: 2 }
      if (size[from] === 0) return []
      const [source, target] = [id(`${from}${a % size[from]}`), id(`${to}${b % size[to]}`)]
      return [{ id: id(`t${at}`), kind, source, target, fields: {}, ...dates(dated) }]
    })
    return { model: Model.of({ entities: [...entities, ...interfaces], relations }), ground: interfaces }
  })

/** Lines of a figure with all that a line may say. */
const figures = fc
  .array(
    fc.record({
      up: fc.nat(3),
      bits: fc.nat(255),
      value: fc.integer({ min: -99_999, max: 99_999 }),
      place: fc.tuple(fc.integer({ min: 0, max: 10 }), fc.integer({ min: 0, max: 100 })),
    }),
    { minLength: 1, maxLength: 8 },
  )
  .chain((parts) => names(parts.length * 2).map((called) => ({ parts, called })))
  .map(({ parts, called }): Case => {
    const path: string[] = []
    const entities = parts.map(({ up, bits, value, place: [across, down] }, at) => {
      path.length = Math.min(path.length, up)
      const under = path.at(-1)
      path.push(`p${at}`)
      const gathers = called[parts.length + at] ?? ''
      return entity(
        `p${at}`,
        'part',
        called[at] ?? '',
        stated({
          figure: 'f',
          order: at,
          under,
          emphasis: chosen(bits, 1, bits > 128 ? 'strong' : 'quiet'),
          value: chosen(bits, 2, value / 4),
          unit: chosen(bits, 2, bits > 90 ? '%' : bits > 60 ? 'days a year' : undefined),
          across: chosen(bits, 4, across),
          up: chosen(bits, 4, down / 10),
          done: chosen(bits, 8, bits > 128),
          image: chosen(bits, 16, 'a1'),
          pointAcross: chosen(bits, 32, down),
          pointDown: chosen(bits, 32, across),
          gathers: chosen(bits, 64, gathers.trim()),
          link: chosen(bits, 128, 'https://marram.example/a?b=(c)'),
        }),
      )
    })
    return { model: Model.of({ entities: [entity('f', 'figure', 'Of a test', {}), ...entities] }), ground: [] }
  })

/** Concepts, each of a name of its own, and any links between them. */
const maps = fc
  .record({
    count: fc.integer({ min: 1, max: 6 }),
    links: fc.array(fc.record({ from: fc.nat(5), to: fc.nat(5), phrase: fc.option(name) }), { maxLength: 8 }),
  })
  .chain(({ count, links }) => names(count).map((called) => ({ called, links })))
  .map(({ called, links }): Case => {
    const entities = called.map((text, at) => entity(`c${at}`, 'concept', text, { figure: 'f', order: at }))
    const relations = links.flatMap(({ from, to, phrase }, at): Relation[] =>
      from < called.length && to < called.length
        ? [
            {
              id: id(`l${at}`),
              kind: 'links',
              source: id(`c${from}`),
              target: id(`c${to}`),
              fields: phrase === null ? {} : { phrase },
            },
          ]
        : [],
    )
    return {
      model: Model.of({ entities: [entity('f', 'figure', 'Of a test', {}), ...entities], relations }),
      ground: [],
    }
  })

const laws: readonly Law[] = [
  {
    says: 'concepts, and what they say of one another',
    notation: 'figure',
    view: view('figure', 'concepts', {}),
    cases: maps,
    stated: (model, lines) => [
      lines.flatMap((line) => model.entities.get(line)?.name ?? []),
      sorted(
        model
          .relationsOfKind('links')
          .map(({ source, target, fields }) => [
            model.entities.get(source)?.name,
            fields['phrase'],
            model.entities.get(target)?.name,
          ]),
      ),
    ],
  },
  {
    says: 'lines of a figure, with numbers, places, pictures, emphasis, sets and links',
    notation: 'figure',
    view: view('figure', 'cards', {}),
    cases: figures,
    stated: (model, lines) => {
      const place = placesIn(lines)
      return lines.map((line) => {
        const one = model.entities.get(line)
        const { figure: _, order: __, under, ...fields } = one?.fields ?? {}
        return [one?.name, under === undefined ? undefined : place(under as Id), Object.entries(fields).sort()]
      })
    },
  },
  {
    says: 'who holds which position, acting or not, and who reports to or assists whom',
    notation: 'organisation',
    view: view('organisation', 'tree', {}),
    cases: organisations,
    stated: (model, lines) => {
      const place = placesIn(lines)
      return [
        lines.map((line) => model.entities.get(line)?.name),
        sorted(
          model
            .relationsOfKind('holds')
            .map((holds) => [model.entities.get(holds.source)?.name, place(holds.target), holds.fields]),
        ),
        sorted(
          ['reports-to', 'assists'].flatMap((kind) =>
            model.relationsOfKind(kind).map(({ source, target }) => [kind, place(source), place(target)]),
          ),
        ),
      ]
    },
  },
  {
    says: 'every element with its lane, and every way with its label, share and whether it is for all others',
    notation: 'process',
    view: view('process', 'lanes', { process: 'process' }),
    cases: processes,
    stated: (model, lines) => {
      const place = placesIn(lines)
      const laneOf = (one: Id) =>
        model.leaving(one, 'performed-in').map(({ target }) => model.entities.get(target)?.name)
      const nodes = lines.flatMap((line) => model.entities.get(line) ?? [])
      return [
        nodes.map((node) => [node.kind, node.name, picked(node, 'type'), laneOf(node.id)]),
        sorted(
          model
            .relationsOfKind('flow')
            .map((flow) => [place(flow.source), place(flow.target), picked(flow, 'label', 'share', 'default')]),
        ),
        sorted(
          model.relationsOfKind('attached-to').map((tied) => [place(tied.source), place(tied.target), tied.fields]),
        ),
      ]
    },
  },
  {
    says: 'every group, task and milestone with its duration, its days, who works on it and what it comes after',
    notation: 'schedule',
    view: view('schedule', 'bars', { plan: 'plan' }),
    cases: plans,
    stated: (model, lines) => {
      const place = placesIn(lines)
      const works = lines.flatMap((line) => model.entities.get(line) ?? [])
      return [
        works.map((work) => [
          work.kind,
          work.name,
          picked(work, 'duration', 'constraint', 'on', 'deadline'),
          place(work.fields['group'] as Id),
        ]),
        sorted(model.relationsOfKind('precedes').map((link) => [place(link.source), place(link.target), link.fields])),
        sorted(model.relationsOfKind('assigned').map((tied) => [tied.source, place(tied.target), tied.fields])),
      ]
    },
  },
  {
    says: 'every event and era with its days, band and weight',
    notation: 'schedule',
    view: view('schedule', 'timeline', {}),
    cases: timelines,
    stated: (model, lines) =>
      lines
        .flatMap((line) => model.entities.get(line) ?? [])
        .map((one) => [one.kind, one.name, picked(one, 'when', 'until', 'band', 'weight')]),
  },
  {
    says: 'every zone, subnet, device, port, cable, flow, rule and what a device hosts',
    notation: 'network',
    view: view('network', 'zones', { network: 'net' }),
    cases: networks,
    stated: (model, lines) => {
      const place = placesIn(lines)
      const portOf = (port: Id) => {
        const one = model.entities.get(port)
        return [one?.name, place(one?.fields['device'] as Id)]
      }
      const named = (value: unknown) => {
        const line = typeof value === 'string' ? place(value as Id) : undefined
        return line === undefined || line < 0 ? (model.entities.get(value as Id)?.name ?? value) : line
      }
      const HELD = new Set(['network', 'order', 'zone', 'device', 'rack', 'source', 'destination'])
      const own = ({ fields }: Entity | Relation) =>
        Object.entries(fields)
          .filter(([key]) => !HELD.has(key))
          .sort()
      return [
        sorted(
          ['zone', 'subnet', 'device', 'filter', 'port'].flatMap((kind) =>
            model
              .ofKind(kind)
              .map((one) => [
                kind,
                one.name,
                own(one),
                ...['zone', 'device', 'rack', 'source', 'destination'].map((key) => named(one.fields[key])),
              ]),
          ),
        ),
        sorted(
          model.relationsOfKind('cable').map((one) => [portOf(one.source), portOf(one.target), own(one), one.from]),
        ),
        sorted(
          ['traffic', 'hosts', 'located-at'].flatMap((kind) =>
            model
              .relationsOfKind(kind)
              .map((one) => [kind, named(one.source), model.entities.get(one.target)?.name, own(one)]),
          ),
        ),
      ]
    },
  },
  {
    says: 'every package, class and member, and every tie with what it says of its ends',
    notation: 'uml',
    view: view('uml', 'classes', {}),
    cases: classModels,
    stated: (model, lines) => {
      const place = placesIn(lines)
      const HELD = new Set(['order', 'class', 'package'])
      const own = ({ fields, from, to }: Entity | Relation) => [
        Object.entries(fields)
          .filter(([key]) => !HELD.has(key))
          .sort(),
        from,
        to,
      ]
      return [
        lines
          .flatMap((line) => model.entities.get(line) ?? [])
          .map((one) => [
            one.kind,
            one.name,
            own(one),
            place(one.fields['class'] as Id),
            place(one.fields['package'] as Id),
          ]),
        sorted(
          ['association', 'generalization', 'realization', 'dependency'].flatMap((kind) =>
            model.relationsOfKind(kind).map((one) => [kind, place(one.source), place(one.target), own(one)]),
          ),
        ),
      ]
    },
  },
  {
    says: 'states',
    notation: 'uml',
    view: view('uml', 'states', { machine: 'machine' }),
    cases: stateMachines,
    stated: (model, lines) => {
      const place = placesIn(lines)
      const HELD = new Set(['order', 'machine', 'within'])
      const own = ({ fields, from, to }: Entity | Relation) => [
        Object.entries(fields)
          .filter(([key]) => !HELD.has(key))
          .sort(),
        from,
        to,
      ]
      return [
        lines
          .flatMap((line) => model.entities.get(line) ?? [])
          .map((one) => [one.kind, one.name, own(one), place(one.fields['within'] as Id)]),
        sorted(model.relationsOfKind('transition').map((one) => [place(one.source), place(one.target), own(one)])),
      ]
    },
  },
  {
    says: 'sequences',
    notation: 'uml',
    view: view('uml', 'sequence', { interaction: 'interaction' }),
    cases: sequences,
    stated: (model, lines) => {
      const all = [...model.entities.values()].filter(({ kind }) => kind !== 'interaction')
      const ordered = [...all].sort((a, b) => Number(a.fields['order']) - Number(b.fields['order']))
      const lifelines = ordered.filter(({ kind }) => kind === 'lifeline')
      const place = placesIn(lines)
      const side = (value: unknown) => lifelines.findIndex(({ id: one }) => one === value)
      return [
        lifelines
          // One that says nothing and that nobody turns to is told by no line.
          .filter(
            ({ id: one }) =>
              lines.includes(one) || ordered.some(({ fields }) => fields['from'] === one || fields['to'] === one),
          )
          .map((one) => [one.name, picked(one, 'actor'), one.from, one.to]),
        lines
          .flatMap((line) => model.entities.get(line) ?? [])
          .filter(({ kind }) => kind !== 'lifeline')
          .map((one) => [
            one.kind,
            one.name,
            picked(one, 'sort'),
            side(one.fields['from']),
            side(one.fields['to']),
            place(one.fields['within'] as Id),
            one.from,
            one.to,
          ]),
      ]
    },
  },
  {
    says: 'use cases',
    notation: 'uml',
    view: view('uml', 'use-cases', {}),
    cases: useCases,
    stated: (model, lines) => {
      const place = placesIn(lines)
      return [
        lines
          .flatMap((line) => model.entities.get(line) ?? [])
          .map((one) => [one.kind, one.name, place(one.fields['subject'] as Id), one.from, one.to]),
        sorted(
          ['participation', 'include', 'extend', 'generalization'].flatMap((kind) =>
            model
              .relationsOfKind(kind)
              .map((one) => [kind, place(one.source), place(one.target), picked(one, 'condition'), one.from, one.to]),
          ),
        ),
      ]
    },
  },
  {
    says: 'components and nodes',
    notation: 'uml',
    view: view('uml', 'components', {}),
    cases: componentModels,
    stated: (model, lines) => {
      const place = placesIn(lines)
      const end = (one: Id) => (model.entities.get(one)?.kind === 'class' ? model.entities.get(one)?.name : place(one))
      return [
        lines
          .flatMap((line) => model.entities.get(line) ?? [])
          .map((one) => [
            one.kind,
            one.name,
            place(one.fields['component'] as Id),
            place(one.fields['within'] as Id),
            one.from,
            one.to,
          ]),
        sorted(
          ['provides', 'requires', 'deploys', 'dependency'].flatMap((kind) =>
            model.relationsOfKind(kind).map((one) => [kind, end(one.source), end(one.target), one.from, one.to]),
          ),
        ),
      ]
    },
  },
]

/** The facts of a list read where nothing but the ground is. */
function readBack({ outline }: Notation, law: Law, text: string, ground: readonly Entity[]) {
  const blank =
    law.view.picture === 'timeline' ? {} : Object.fromEntries(Object.keys(law.view.scope).map((key) => [key, '']))
  const shown = { ...law.view, scope: blank }
  const model = Model.of({ entities: ground, views: [shown] })
  const outcome = outline?.paste(
    { model, view: shown, day: DAY, selection: [], newId: numbering('x') },
    undefined,
    text,
  )
  if (!outcome || 'refused' in outcome) throw new Error(outcome?.refused ?? 'no outline')
  const after = apply(model, outcome.change).model
  return { model: after, view: after.views.get(shown.id) ?? shown }
}

describe.each(laws)('what an outline writes is read back to the same facts: $says', (law) => {
  const notation = registry.notations.find(({ id: one }) => one === law.notation)
  if (!notation?.outline) throw new Error('no outline')
  const { outline } = notation
  it('of any facts', () =>
    fc.assert(
      fc.property(law.cases, ({ model, ground }) => {
        const lines = outline.lines(model, law.view, DAY)
        const text = listText(lines)
        const back = readBack(notation, law, text, ground)
        const again = outline.lines(back.model, back.view, DAY)
        expect(listText(again)).toBe(text)
        const ids = (list: typeof lines) => [...new Set(list.map(({ id: one }) => one))]
        expect(law.stated(back.model, ids(again))).toEqual(law.stated(model, ids(lines)))
      }),
      { seed: Number(process.env['SEED'] ?? 2026), numRuns: Number(process.env['RUNS'] ?? 300) },
    ))
})
