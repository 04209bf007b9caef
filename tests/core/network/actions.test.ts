import { describe, expect, it } from 'vitest'
import { apply, asId, type Model } from '../../../src/core/model'
import { isRefusal } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { linesOf } from '../../../src/core/notations/network/telling'
import { after, named, netIn, network, viewIn, wishIn } from './facts'
import { DAY } from '../../facts'

const notation = registry.notations.find(({ id }) => id === 'network')
if (!notation?.outline) throw new Error('no networks')
const { outline } = notation
const action = (key: string) => {
  const found = notation.actions.find(({ id }) => id === key)
  if (!found) throw new Error(`no action “${key}”`)
  return found
}
const done = (model: Model, key: string, selection: readonly string[], more = {}) =>
  after(model, action(key).run(wishIn(model, selection, more)))
const cables = (model: Model) =>
  netIn(model).cables.map(({ a, b }) => `${a.device.name} ${a.name} – ${b.device.name} ${b.name}`)
const text = (model: Model) => linesOf(model, netIn(model), DAY).map((line) => '  '.repeat(line.depth) + line.text)

const SMALL = `Lan  (zone, trust high)
  sw  switch  10.0.0.2/24
    port p1  1G
    port p2  10G
  a  server
    eth0 to sw p3
b  server
  port e0  10G`

describe('in the picture of a network', () => {
  it('the next device stands in the same zone, cabled at a free port', () => {
    const model = done(network(SMALL), 'next', ['sw'])
    expect(cables(model)).toContain('sw p1 – new-device p1')
    expect(netIn(model).devices.find(({ name }) => name === 'new-device')?.zone?.name).toBe('Lan')
    // Where none is free one is made.
    expect(cables(done(network(SMALL), 'next', ['a']))).toContain('a p1 – new-device p1')
  })

  it('a cable goes to a free port that fits, and is offered only such', () => {
    const model = network(SMALL)
    const picks = action('cable').picks
    const offered = typeof picks === 'function' ? picks(wishIn(model, ['b']))?.offers : undefined
    expect(offered?.map((id) => model.entities.get(id)?.name)).toEqual(['sw', 'p2', 'a'])
    expect(cables(done(model, 'cable', ['b'], { target: named(model, 'sw') }))).toContain('b e0 – sw p2')
    expect(cables(done(model, 'cable', ['a'], { target: named(model, 'p1', 'port') }))).toContain('a p1 – sw p1')
    expect(action('cable').run(wishIn(model, ['a'], { target: named(model, 'p3', 'port') }))).toEqual({
      refused: 'Port “p3” of “sw” has a cable already.',
    })
    expect(isRefusal(action('cable').run(wishIn(model, ['a'], { target: named(model, 'a') })))).toBe(true)
  })

  it('a flow is drawn once', () => {
    const model = done(network(SMALL), 'flow', ['a'], {
      target: asId('n11') === asId('x') ? undefined : named(network(SMALL), 'b'),
    })
    expect(netIn(model).flows.map(({ from, to }) => [from.name, to.name])).toEqual([['a', 'b']])
    expect(action('flow').run(wishIn(model, ['a'], { target: named(model, 'b') }))).toEqual({
      refused: '“a” sends to “b” already.',
    })
  })

  it('what is taken down changes the view and no fact, and comes back', () => {
    const model = network(SMALL)
    const down = done(model, 'down', ['sw', 'a'])
    expect(viewIn(down).options['down']).toEqual([named(model, 'sw'), named(model, 'a')])
    expect([down.entities, down.relations]).toEqual([model.entities, model.relations])
    expect(viewIn(done(down, 'down', ['sw', 'a'])).options['down']).toBeUndefined()
    expect(viewIn(done(down, 'all-up', [])).options['down']).toBeUndefined()
  })

  it('a device is dropped into a zone, a rack and a site', () => {
    const model = network(
      `${SMALL}\nDmz  (zone, trust low)\nA1  (rack, units 4)\nQuay  (site)\nc  server  in A1 u 1\nd  server  at Quay`,
    )
    const { drop } = notation.pictures.find(({ id }) => id === 'zones') ?? {}
    const dropped = (name: string, on: string, kind: string) => {
      const outcome = drop?.(wishIn(model, [name], { target: named(model, on, kind) }))
      return netIn(after(model, outcome ?? { refused: 'nothing' })).devices.find((device) => device.name === name)
    }
    expect(dropped('b', 'Dmz', 'zone')?.zone?.name).toBe('Dmz')
    expect(dropped('b', 'a', 'device')?.zone?.name).toBe('Lan')
    expect(dropped('b', 'A1', 'rack')?.rack?.name).toBe('A1')
    expect(dropped('c', 'Quay', 'site')?.site?.name).toBe('Quay')
    expect(drop?.(wishIn(model, ['b'], { target: named(model, 'p1', 'port') }))).toEqual({
      refused: 'Drop it into a zone, a site or a rack.',
    })
  })

  it('a line pulled from a device is a cable from its edge, a flow from below', () => {
    const model = network(SMALL)
    const { pull } = notation.pictures.find(({ id }) => id === 'zones') ?? {}
    const pulled = (handle: string) =>
      after(
        model,
        pull?.(wishIn(model, ['b'], { target: named(model, 'sw') }), {
          handle,
          by: { x: 1, y: 1 },
          at: { x: 0, y: 0 },
          box: { x: 0, y: 0, width: 1, height: 1 },
        }) ?? { refused: '' },
      )
    expect(cables(pulled('cable'))).toContain('b e0 – sw p2')
    expect(netIn(pulled('flow')).flows).toHaveLength(1)
  })

  it('a device is pulled up its rack, by whole units, and into another one', () => {
    const model = network('A1  (rack, units 10)\nA2  (rack, units 10)\na  server  in A1 u 2\nb  server  in A2 u 1')
    const { pull } = notation.pictures.find(({ id }) => id === 'racks') ?? {}
    const pulled = (y: number, target?: string) => {
      const outcome = pull?.(wishIn(model, ['a'], target === undefined ? {} : { target: named(model, target) }), {
        handle: 'unit',
        by: { x: 0, y },
        at: { x: 0, y: 0 },
        box: { x: 0, y: 0, width: 1, height: 1 },
      })
      const device = netIn(after(model, outcome ?? { refused: '' })).devices.find(({ name }) => name === 'a')
      return [device?.rack?.name, device?.entity.fields['unit']]
    }
    expect(pulled(-3 * 18 - 4)).toEqual(['A1', 5])
    expect(pulled(500)).toEqual(['A1', 1])
    expect(pulled(0, 'A2')).toEqual(['A2', 2])
    expect(pulled(4)).toEqual(['A1', 2])
  })

  it('what is removed takes its ports, cables and rules along, and leaves nothing behind', () => {
    const model = network('fw  firewall\n  lan to sw p1\n  deny any from any to any\nsw  switch')
    const without = done(model, 'remove', ['fw'])
    expect([...without.entities.values()].map(({ kind, name }) => `${kind} ${name}`)).toEqual([
      'network The network',
      'device sw',
      'port p1',
    ])
    expect(without.relations.size).toBe(0)
    const zoned = done(network(SMALL), 'remove', ['Lan'])
    expect(netIn(zoned).devices.map(({ zone }) => zone)).toEqual([undefined, undefined, undefined])
  })

  it('taking away a cable takes the ports along that were only there for it', () => {
    const model = network(SMALL)
    const [cable] = netIn(model).cables
    const { change } = action('remove').run({ ...wishIn(model, []), selection: [cable?.id ?? asId('x')] }) as {
      change: never
    }
    expect(text(apply(model, change).model)).toEqual([
      'Lan  (zone, trust high)',
      '  sw  switch  10.0.0.2/24',
      '    port p1  1G',
      '    port p2  10G',
      '  a  server',
      'b  server',
      '  port e0  10G',
    ])
  })
})

describe('the outline of a network', () => {
  const write = (model: Model, line: string, words: string) => {
    const found = linesOf(model, netIn(model), DAY).find((one) => one.text === line)
    return outline.write(wishIn(model, []), found?.id ?? asId('x'), words)
  }
  const refused = (words: string, line = 'sw  switch  10.0.0.2/24') => {
    const outcome = write(network(SMALL), line, words)
    return 'refused' in outcome ? outcome.refused : 'it was taken'
  }

  it('says why a line cannot be read, and names the part', () => {
    expect(refused('sw  swich')).toBe('“swich” is not understood in a line of a device.')
    expect(refused('sw  switch  10.0.0.256')).toBe('“10.0.0.256”: “256” is no number from 0 to 255.')
    expect(refused('sw  switch  10.0.0.1/33')).toBe('“10.0.0.1/33”: the prefix length “33” is no number from 0 to 32.')
    expect(refused('sw  switch  ::1::')).toBe('“::1::”: it has “::” more than once.')
    expect(refused('sw  switch  since tomorrow')).toMatch(/“tomorrow” is not a day/)
    expect(refused('sw  switch  at Nowhere')).toMatch(/There is no site “Nowhere”/)
    expect(refused('eth0 to nobody p1', 'eth0 to sw p3')).toBe('There is no device “nobody”.')
    expect(refused('something else', 'eth0 to sw p3')).toMatch(
      /is not understood beneath a device: write “lan1 to sw-core-1 p1”/,
    )
    expect(refused('(zone)', 'Lan  (zone, trust high)')).toMatch(/A zone needs a name/)
  })

  it('lets a port be called otherwise while its cable is typed, without leaving any behind', () => {
    let model = network(SMALL)
    for (const words of ['eth0 to sw p', 'eth0 to sw p4', 'eth0 to sw p45', 'eth to sw p45', 'eth to b p']) {
      const [cable] = netIn(model).cables
      model = after(model, outline.write(wishIn(model, []), cable?.id ?? asId('x'), words))
    }
    expect(cables(model)).toEqual(['a eth – b p'])
    expect(netIn(model).devices.map(({ name, ports }) => [name, ...ports.map((port) => port.name)])).toEqual([
      ['sw', 'p1', 'p2'],
      ['a', 'eth'],
      ['b', 'e0', 'p'],
    ])
  })

  it('takes what is typed beneath a device as something of it, else as a device beside it', () => {
    let model = network(SMALL)
    const line = (start: string) => linesOf(model, netIn(model), DAY).find((one) => one.text.startsWith(start))?.id
    model = after(model, outline.insert(wishIn(model, []), line('a '), 'flow to b  tcp 443  needed'))
    model = after(model, outline.insert(wishIn(model, []), line('a '), 'c  server'))
    model = after(model, outline.insert(wishIn(model, []), line('eth0'), 'allow tcp 22 from any to a'))
    expect(text(model)).toEqual([
      'Lan  (zone, trust high)',
      '  sw  switch  10.0.0.2/24',
      '    port p1  1G',
      '    port p2  10G',
      '  a  server',
      '    eth0 to sw p3',
      '    flow to b  tcp 443  needed',
      '    allow tcp 22 from any to a',
      '  c  server',
      'b  server',
      '  port e0  10G',
    ])
  })

  it('moves a device into the zone above it and out again, and refuses what cannot move', () => {
    const model = network(SMALL)
    const b = named(model, 'b')
    const within = after(model, outline.indent(wishIn(model, []), b))
    expect(netIn(within).byId.get(b)?.zone?.name).toBe('Lan')
    expect(netIn(after(within, outline.outdent(wishIn(within, []), b))).byId.get(b)?.zone).toBeUndefined()
    expect(isRefusal(outline.indent(wishIn(model, []), named(model, 'Lan')))).toBe(true)
    expect(isRefusal(outline.move(wishIn(model, []), netIn(model).cables[0]?.id ?? asId('x'), 1))).toBe(true)
  })

  it('changes nothing where a pasted line cannot be read, and says which', () => {
    const model = network(SMALL)
    expect(outline.paste(wishIn(model, []), undefined, 'x  server\n  e0 to nowhere p1')).toEqual({
      refused: 'Line 2, “e0 to nowhere p1”: There is no device “nowhere”. Nothing was changed.',
    })
  })
})
