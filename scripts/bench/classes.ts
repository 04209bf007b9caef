import ELK from 'elkjs/lib/elk.bundled.js'
import { findingsOf } from '../../src/core/findings'
import { apply, asDay, asId, type Model } from '../../src/core/model'
import { registry } from '../../src/core/notations'
import { driftIn, keptIn, tablesKept } from '../../src/core/notations/uml/schema/drift'
import { addTable } from '../../src/core/notations/uml/schema/facts'
import { classesOn } from '../../src/core/notations/uml/structure'
import { classModelOf, classView } from '../../tests/classShapes'
import { median } from './organisations'

const DAY = asDay('2026-11-24')
const ms = (value: number) => `${value.toFixed(1)} ms`.padStart(11)
const notation = registry.notations.find(({ id }) => id === 'uml')
const picture = notation?.pictures.find(({ id }) => id === 'classes')
if (!notation || !picture) throw new Error('no classes to measure')
/** Facts are made anew for each run: what is remembered of a model would make the second run free. */
const fresh = (model: Model) => model.with({ entities: new Map(model.entities), relations: new Map(model.relations) })

/** The time elk takes for the same classes without words, in ms. */
async function elkTime(model: Model): Promise<number> {
  const { classes, ties } = classesOn(model, DAY)
  const began = performance.now()
  await new ELK().layout({
    id: 'root',
    layoutOptions: { 'elk.algorithm': 'layered', 'elk.direction': 'DOWN', 'elk.edgeRouting': 'ORTHOGONAL' },
    children: classes.map(({ id }) => ({ id, width: 130, height: 60 })),
    edges: ties.map(({ id, a, b }) => ({ id, sources: [b.id], targets: [a.id] })),
  })
  return performance.now() - began
}

console.log(
  '\nClasses with roles and multiplicities, drawn, against elkjs on the same ones without words (must be under 500 ms for 200 classes and 350 ties)',
)
for (const [classes, ties] of [
  [30, 45],
  [100, 160],
  [200, 350],
] as const) {
  const model = classModelOf({ classes, ties })
  const ours = median(5, () => void picture.draw(fresh(model), classView(), DAY))
  const elk = await elkTime(model)
  console.log(
    `  ${`${classes} classes, ${ties} ties`.padStart(26)}  ours${ms(ours)}  elk${ms(elk)} (× ${(ours / elk).toFixed(2)})`,
  )
}

console.log('\nGrowth of a class model: all rules must be under 1 000 ms at 1 000 classes')
const of = { ...registry, rules: new Map([...registry.rules].filter(([id]) => id.startsWith('uml/'))) }
const times = [250, 1000].map((classes) => {
  const model = classModelOf({ classes, ties: 2 * classes, packages: 8 })
  return median(3, () => void findingsOf(of, fresh(model), DAY))
})
const [small = 1, large = 1] = times
console.log(`  all rules of classes  ${ms(small)} ${ms(large)}  × ${(large / small).toFixed(1)}`)

console.log('\nA database with a difference in every table, all found, each with what would mend it')
const drifts = [250, 1000].map((classes) => {
  const model = withDatabase(classModelOf({ classes, ties: 2 * classes }))
  return median(3, () => void driftIn(fresh(model), DAY))
})
const [few = 1, many = 1] = drifts
console.log(`  differences           ${ms(few)} ${ms(many)}  × ${(many / few).toFixed(1)}`)

/** Every class is kept in a table of its own, which has a column that nobody states. */
function withDatabase(model: Model): Model {
  const named = model.with({
    entities: new Map(
      [...model.entities].map(([id, one]) => [
        id,
        one.kind === 'class' ? { ...one, fields: { ...one.fields, table: one.name.toLowerCase() } } : one,
      ]),
    ),
  })
  const all = classesOn(named, DAY)
  const schema = asId('database')
  const steps = tablesKept(all, keptIn(all, undefined)).map((table, at) =>
    addTable(
      asId(`table-${at}`),
      schema,
      { ...table, columns: [...table.columns, { name: 'extra', type: 'INT', isRequired: false }] },
      at,
    ),
  )
  const begun = { do: 'add-entity', entity: { id: schema, kind: 'schema', name: 'shop', fields: {} } } as const
  return apply(named, { label: 'Read', steps: [begun, ...steps] }).model
}
