import { describe, expect, it } from 'vitest'
import { apply, asId, Model, type Entity, type Id, type View } from '../../../src/core/model'
import type { Outcome, Wish } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { componentOutline } from '../../../src/core/notations/uml/components/outline'
import { overlaps } from '../../../src/core/scene'
import { DAY, day, numbering } from '../../facts'
import { findings, mended, named } from '../network/facts'

const view = (options: View['options'] = {}): View => ({
  id: asId('parts'),
  notation: 'uml',
  picture: 'components',
  title: 'Components',
  order: 2,
  scope: {},
  options,
  pins: {},
  look: {},
})

function parts(text: string, known: readonly Entity[] = []): Model {
  const begun = Model.of({ entities: known, views: [view()] })
  const outcome = componentOutline.paste(
    { model: begun, view: view(), day: day('2000-01-01'), selection: [], newId: numbering('c') },
    undefined,
    text,
  )
  if ('refused' in outcome) throw new Error(outcome.refused)
  return apply(begun, outcome.change).model
}

const textOf = (model: Model): string =>
  componentOutline
    .lines(model, view(), DAY)
    .map(({ depth, text }) => `${'  '.repeat(depth)}${text}`)
    .join('\n')

const CASES = [
  {
    rule: 'uml/undeployed',
    wrong: 'A  (component)\nB  (component)  since 2026-03-01\nN  (node)\n  deploys A',
    right: 'A  (component)\nN  (node)\n  M  (node)\n    deploys A',
    says: 'No node deploys “B”',
  },
  {
    rule: 'uml/interface-unprovided',
    wrong: 'A  (component)\n  requires I  since 2026-03-01',
    right: 'A  (component)\n  requires I\nB  (component)\n  port p\n    provides I',
    says: '“A” requires “I”, which no component provides',
    fix: 0,
  },
] as const

describe.each(CASES)('$rule', ({ rule, wrong, right, says, ...more }) => {
  it('finds what is wrong from the day on which it is, and says it', () => {
    expect(findings(rule, parts(wrong), DAY).map(({ message }) => message)).toEqual([
      expect.stringContaining(says) as string,
    ])
    expect(findings(rule, parts(wrong), day('2026-02-15'))).toEqual([])
  })
  it('finds nothing where nothing is wrong, and nothing before anything is deployed', () => {
    expect(findings(rule, parts(right))).toEqual([])
    expect(findings(rule, parts('A  (component)'))).toEqual([])
  })
  it('is mended by its fix, where there is one', () => {
    const fix = 'fix' in more ? more.fix : undefined
    expect(findings(rule, parts(wrong))[0]?.fixes.length === 0).toBe(fix === undefined)
    if (fix !== undefined) expect(mended(rule, parts(wrong), fix)).toEqual([])
  })
})

it('an interface is provided through one that is a kind of it (UML 2.5.1, 10.4.3)', () => {
  const interfaces = ['I', 'J'].map((name): Entity => ({
    id: asId(name),
    kind: 'class',
    name,
    fields: { form: 'interface' },
  }))
  const tied = (source: string, target: string): Model =>
    apply(parts('A  (component)\n  requires I\nB  (component)\n  provides J', interfaces), {
      label: '',
      steps: [
        {
          do: 'add-relation',
          relation: { id: asId('g'), kind: 'generalization', source: asId(source), target: asId(target), fields: {} },
        },
      ],
    }).model
  expect(findings('uml/interface-unprovided', tied('J', 'I'))).toEqual([])
  expect(findings('uml/interface-unprovided', tied('I', 'J'))).toHaveLength(1)
})

it('an interface that a component provides is not forgotten', () => {
  const model = parts('A  (component)\n  provides I\nB  (component)\n  provides J')
  expect(findings('uml/isolated', model)).toEqual([])
})

let made = 0
const wishFor = (model: Model, ...selection: readonly Id[]): Wish => ({
  model,
  view: view(),
  day: DAY,
  selection,
  newId: () => asId(`new${++made}`),
})
const done = (model: Model, outcome: Outcome | undefined): Model => {
  if (!outcome || 'refused' in outcome) throw new Error(outcome?.refused ?? 'nothing')
  return apply(model, outcome.change).model
}
const uml = registry.notations.find(({ id }) => id === 'uml')
const picture = uml?.pictures.find(({ id }) => id === 'components')
const act = (key: string, model: Model, ...selection: readonly Id[]): Model => {
  const action = uml?.actions.find(({ id }) => id === `components-${key}`)
  if (!action?.applies(wishFor(model, ...selection))) throw new Error(`“${key}” is not offered`)
  return done(model, action.run(wishFor(model, ...selection)))
}
const PULL = { handle: 'tie', by: { x: 0, y: 0 }, at: { x: 0, y: 0 }, box: { x: 0, y: 0, width: 1, height: 1 } }

const SITE =
  'Site  (component)\n  requires Orders\n  uses Log\nShop  (component)\n  port web\n    provides Orders\nLog  (component)\nServer  (node)\n  deploys Shop\n  Runtime  (node)\n    deploys Site\nSpare  (node)\n  deploys Shop'

describe('the outline of components', () => {
  it('reads what it writes', () => {
    expect(textOf(parts(SITE))).toBe(SITE)
  })
  it('keeps systems and devices by their identity', () => {
    const device: Entity = { id: asId('d'), kind: 'device', name: 'srv-1', fields: {} }
    const model = parts('N  (node)  device: srv-1', [device])
    expect(model.entities.get(named(model, 'N'))?.fields['device']).toBe('d')
    expect(textOf(model)).toBe('N  (node)  device: srv-1')
  })
  it('names what it does not understand', () => {
    expect(() => parts('A  (component)\n  needs I')).toThrow(
      '“needs I” is not understood there: write provides, requires, uses, port',
    )
    expect(() => parts('N  (node)\n  A  (component)')).toThrow('Beneath a node write what it deploys')
    expect(() => parts('A  (part)')).toThrow('“(part)” is not understood here')
    expect(() => parts('A  (component)\n  provides')).toThrow('After “provides” a name is missing')
  })
  it('writes lines and moves nodes in and out', () => {
    const model = parts(SITE)
    const lineOf = (text: string) =>
      componentOutline.lines(model, view(), DAY).find((one) => one.text === text)?.id ?? asId('none')
    const write = (line: string, text: string) =>
      textOf(done(model, componentOutline.write(wishFor(model), lineOf(line), text)))
    expect(write('requires Orders', 'provides Orders')).toContain('  provides Orders')
    expect(write('uses Log', 'uses Store')).toContain('Store  (component)')
    expect(write('port web', 'port api')).toContain('  port api')
    expect(textOf(done(model, componentOutline.indent(wishFor(model), lineOf('Spare  (node)'))))).toContain(
      '  Spare  (node)',
    )
    expect(textOf(done(model, componentOutline.outdent(wishFor(model), lineOf('Runtime  (node)'))))).toContain(
      '\nRuntime  (node)',
    )
    // Next to what it came out of, whatever stood where before.
    const stated = parts('N  (node)\n  O  (node)\n  P  (node)\nQ  (node)\nR  (node)')
    const node = (of: string) => stated.ofKind('deployment-node').find(({ name }) => name === of)?.id ?? asId('')
    const turned = done(stated, componentOutline.move(wishFor(stated), node('N'), 1))
    expect(textOf(done(turned, componentOutline.outdent(wishFor(turned), node('O'))))).toBe(
      'Q  (node)\nN  (node)\n  P  (node)\nO  (node)\nR  (node)',
    )
    expect(
      textOf(done(model, componentOutline.insert(wishFor(model), lineOf('requires Orders'), 'requires More'))),
    ).toContain('requires More')
  })
})

describe('actions on components', () => {
  it('go on from a component, its port and a node', () => {
    const model = parts(SITE)
    const [site, web, server] = [named(model, 'Site'), named(model, 'web'), named(model, 'Server')]
    expect(textOf(act('next', model, site))).toContain('  uses New component')
    expect(textOf(act('provided', model, web))).toContain('    provides NewInterface')
    expect(textOf(act('port', model, site))).toContain('  port port')
    expect(textOf(act('inside', model, server))).toContain('  New node  (node)')
    expect(textOf(act('remove', model, named(model, 'Shop')))).not.toContain('web')
    expect(textOf(act('remove', model, server))).toContain('\nRuntime  (node)')
  })
  it('tie what the standard allows, and drop components on nodes', () => {
    const model = parts(SITE)
    const [site, shop, spare] = [named(model, 'Site'), named(model, 'Shop'), named(model, 'Spare')]
    const pull = (from: Id, to: Id) => picture?.pull?.({ ...wishFor(model, from), target: to }, PULL)
    expect(textOf(done(model, pull(spare, site)))).toContain('  deploys Site')
    expect(textOf(done(model, pull(shop, site)))).toContain('  uses Site')
    expect(textOf(done(model, pull(shop, named(model, 'Orders'))))).toContain('  requires Orders')
    const dropped = done(model, picture?.drop?.({ ...wishFor(model, site), target: spare }))
    expect(textOf(dropped)).toContain('Spare  (node)\n  deploys Shop\n  deploys Site')
    expect(picture?.drop?.({ ...wishFor(model, named(model, 'Server')), target: named(model, 'Runtime') })).toEqual({
      refused: 'A node does not stand within itself.',
    })
  })
})

describe('the picture of components', () => {
  const sceneOf = (text: string, options: View['options'] = {}) => {
    const model = parts(text)
    const scene = picture?.draw(model, view(options), DAY)
    if (!scene) throw new Error('no scene')
    return { model, scene }
  }
  it('has each component in the node that deploys it, again in another one, and nothing over anything else', () => {
    const { model, scene } = sceneOf(SITE)
    const box = (id: string) => {
      const found = scene.items.find((item) => item.id === id)
      if (!found) throw new Error(`no ${id}`)
      return found.box
    }
    const isIn = (inner: string, outer: string) => {
      const [a, b] = [box(inner), box(outer)]
      return a.x > b.x && a.x + a.width < b.x + b.width && a.y > b.y && a.y + a.height < b.y + b.height
    }
    expect(isIn(named(model, 'Site'), named(model, 'Runtime'))).toBe(true)
    expect(isIn(named(model, 'Shop'), named(model, 'Server'))).toBe(true)
    expect(isIn(`${named(model, 'Spare')}~${named(model, 'Shop')}`, named(model, 'Spare'))).toBe(true)
    const solid = scene.items
      .filter(({ ground, label }) => !ground && label.startsWith('component'))
      .map((one) => one.box)
    expect(solid).toHaveLength(4)
    solid.forEach((a, at) => solid.slice(at + 1).forEach((b) => expect(overlaps(a, b)).toBe(false)))
    // With the upper and the right side of the box, which stand 8 px out.
    const frames = scene.items
      .filter(({ ground }) => ground)
      .map(({ box: { x, y, width, height } }) => ({ x, y: y - 8, width: width + 8, height: height + 8 }))
    frames.forEach((a, at) => frames.slice(at + 1).forEach((b) => expect(overlaps(a, b)).toBe(false)))
    expect(scene.headline).toBe('3 components, 3 nodes')
  })
  it('draws a ball for what is provided and a socket about it for what is required; nodes by choice', () => {
    const { model, scene } = sceneOf(SITE, { nodes: false })
    expect(scene.items.some(({ ground }) => ground)).toBe(false)
    const ball = scene.items.find(({ id }) => id === named(model, 'Orders'))
    expect(ball?.marks[0]?.tag).toBe('circle')
    const arcs = scene.links.filter(({ marks }) =>
      marks.some(({ attrs }) => String('d' in attrs ? attrs.d : '').includes('A11 11')),
    )
    expect(arcs.map(({ source }) => source)).toEqual([named(model, 'Site')])
  })
})
