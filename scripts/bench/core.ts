import { stratify, tree } from 'd3-hierarchy'
import { findingsOf, makeChecker } from '../../src/core/findings'
import { tidyTree } from '../../src/core/layout'
import { apply, asDay, asId, type Model } from '../../src/core/model'
import { drawn } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import { madeUp, median } from './organisations'

const DAY = asDay('2026-11-24')
const [organisation] = registry.notations
const picture = organisation?.pictures[0]
const ms = (value: number) => `${value.toFixed(1)} ms`.padStart(10)

interface Row {
  readonly id: string
  readonly parentId: string | null
}

/** Our tidy tree and d3-hierarchy's tree() on the same tree with the same node size. */
function layouts(model: Model) {
  const above = new Map(model.relationsOfKind('reports-to').map(({ source, target }) => [source, target]))
  const rows = model.ofKind('position').map(({ id }): Row => ({ id, parentId: above.get(id) ?? null }))
  const root = stratify<Row>()
    .id((row) => row.id)
    .parentId((row) => row.parentId)(rows)
  const nodes: (typeof root)[] = []
  root.eachBefore((node) => void nodes.push(node))
  const index = new Map(nodes.map((node, i) => [node, i]))
  const half = new Float64Array(nodes.length).fill(62)
  const shape = {
    parent: Int32Array.from(nodes, (node) => (node.parent ? (index.get(node.parent) ?? -1) : -1)),
    left: half,
    right: half,
    height: new Float64Array(nodes.length).fill(44),
  }
  const reference = tree<Row>()
    .nodeSize([150, 88])
    .separation(() => 1)
  return {
    ours: median(21, () => void tidyTree(shape, { across: 26, down: 44 })),
    d3: median(21, () => void reference(root)),
  }
}

/** Facts are made anew for each run: what is remembered of a model would make the second run free. */
const fresh = (model: Model) => model.with({ entities: new Map(model.entities), relations: new Map(model.relations) })

console.log('\nLayout of a tree, ours against d3-hierarchy tree() on the same tree (must be at most 3)')
for (const count of [1000, 10_000]) {
  const { ours, d3 } = layouts(madeUp(count))
  console.log(
    `  ${String(count).padStart(6)} positions  ours ${ms(ours)}  d3 ${ms(d3)}  ratio ${(ours / d3).toFixed(2)}`,
  )
}

console.log('\nGrowth: the same work at 1 000 and at 10 000 positions (near-linear is about 10)')
const sizes = [1000, 10_000].map((count) => {
  const model = madeUp(count)
  const view = model.views.get(asId('view'))
  if (!picture || !view) throw new Error('no picture to measure')
  const change = { label: 'x', steps: [{ do: 'set-entity' as const, id: asId('p5'), path: 'name', value: 'New' }] }
  return {
    'whole picture': median(9, () => void picture.draw(fresh(model), view, DAY)),
    'all rules': median(9, () => void findingsOf(registry, fresh(model), DAY)),
    'apply one change': median(51, () => void apply(model, change)),
    'outline lines': median(9, () => void organisation?.outline?.lines(fresh(model), view, DAY)),
  }
})
const [small, large] = sizes
for (const what of Object.keys(small ?? {}) as (keyof NonNullable<typeof small>)[]) {
  const [a, b] = [small?.[what] ?? 0, large?.[what] ?? 0]
  console.log(`  ${what.padEnd(18)} ${ms(a)}  ${ms(b)}  × ${(b / a).toFixed(1)}`)
}

console.log('\nRules again after one change at 10 000 positions, against all of them (aim: a tenth)')
{
  let model = madeUp(10_000)
  const check = makeChecker(registry)
  check(model, DAY)
  const all = median(5, () => void findingsOf(registry, fresh(model), DAY))
  let turn = 0
  const after = (path: string, value: () => string) => {
    const took = median(9, () => {
      const steps = [{ do: 'set-entity' as const, id: asId('p5000'), path, value: value() }]
      ;({ model } = apply(model, { label: 'x', steps }))
      check(model, DAY)
    })
    console.log(`  ${path.padEnd(18)} ${ms(took)}  of ${ms(all)}  ${(took / all).toFixed(2)}`)
  }
  after('name', () => `Post ${++turn}`)
  after('fields.grade', () => `G${(++turn % 9) + 1}`)
  after('from', () => `20${10 + (++turn % 9)}-01-01`)
}

console.log('\nWhat stands out, added to drawing the same tree (growth must stay linear)')
if (picture)
  for (const count of [1000, 10_000]) {
    const model = madeUp(count)
    const [view] = model.views.values()
    if (!view) throw new Error('no view')
    const look = { rules: ['colour by grade', 'strong where fte > 0.9', 'quiet where outside Post 1'], letters: true }
    const plain = median(5, () => void drawn(registry, fresh(model), view, DAY))
    const marked = median(5, () => void drawn(registry, fresh(model), { ...view, look }, DAY))
    console.log(`  ${count} positions: drawn in ${ms(plain)}, with three rules and letters in ${ms(marked)}`)
  }
