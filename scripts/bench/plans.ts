import { performance } from 'node:perf_hooks'
import { apply, asDay, asId } from '../../src/core/model'
import { criticalPath } from '../../src/core/notations/schedule/criticalPath'
import { planOn } from '../../src/core/notations/schedule/plan'
import { registry } from '../../src/core/notations'
import { findingsOf } from '../../src/core/findings'
import { madeUpPlan } from './madeUpPlan'
import { median } from './organisations'

const DAY = asDay('2026-11-24')
const ms = (value: number) => `${value.toFixed(1)} ms`.padStart(10)

const schedule = registry.notations.find(({ id }) => id === 'schedule')
const bars = schedule?.pictures[0]
if (!bars) throw new Error('no picture to measure')

console.log(
  '\nA plan (must be under 100 ms for a full pass, under 20 ms after one changed duration, at 5 000 tasks and 7 000 links)',
)
for (const count of [1000, 5000]) {
  const model = madeUpPlan(count)
  const view = model.views.get(asId('view'))
  if (!view) throw new Error('no view')
  const fresh = () => model.with({ entities: new Map(model.entities) })
  const { stated, links } = planOn(model, asId('plan'), DAY)
  const pass = median(15, () => void criticalPath(stated))
  const whole = median(9, () => void planOn(fresh(), asId('plan'), DAY))
  let day = 1
  const changed = median(15, () => {
    const change = {
      label: '',
      steps: [{ do: 'set-entity' as const, id: asId('t7'), path: 'fields.duration', value: `${++day}d` }],
    }
    planOn(apply(model, change).model, asId('plan'), DAY)
  })
  const drawn = median(5, () => void bars.draw(fresh(), view, DAY))
  const began = performance.now()
  findingsOf(registry, fresh(), DAY)
  const rules = performance.now() - began
  console.log(
    `  ${String(count).padStart(6)} tasks, ${String(links.length).padStart(5)} links  forward and backward ${ms(pass)}  from the facts ${ms(whole)}  one duration changed ${ms(changed)}  bars ${ms(drawn)}  all rules ${ms(rules)}`,
  )
}
