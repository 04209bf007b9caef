import ELK from 'elkjs/lib/elk.bundled.js'
import { findingsOf } from '../../src/core/findings'
import { asDay, type Model } from '../../src/core/model'
import { registry } from '../../src/core/notations'
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
