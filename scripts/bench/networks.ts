import ELK from 'elkjs/lib/elk.bundled.js'
import { makeChecker, findingsOf } from '../../src/core/findings'
import { apply, asDay, asId, type Model } from '../../src/core/model'
import { registry } from '../../src/core/notations'
import { flowWays, lostBy } from '../../src/core/notations/network/carried'
import { lossesOf } from '../../src/core/notations/network/losses'
import { boxesOf } from '../../src/core/notations/network/pictures/zones/boxes'
import { netShown } from '../../src/core/notations/network/structure'
import { topologyOf } from '../../src/core/notations/network/topology'
import { networkOf } from '../../tests/networkShapes'
import { median } from './organisations'

const DAY = asDay('2026-11-24')
const ms = (value: number) => `${value.toFixed(1)} ms`.padStart(11)
const notation = registry.notations.find(({ id }) => id === 'network')
const picture = (id: string) => {
  const found = notation?.pictures.find((one) => one.id === id)
  if (!found) throw new Error(`no picture ${id} to measure`)
  return found
}
const viewOf = (model: Model) => {
  const [view] = model.views.values()
  if (!view) throw new Error('no view')
  return view
}
/** Facts are made anew for each run: what is remembered of a model would make the second run free. */
const fresh = (model: Model) => model.with({ entities: new Map(model.entities), relations: new Map(model.relations) })

/** The time elk takes for the same network with its zones as containers, in ms. */
async function elkTime(model: Model): Promise<number> {
  const net = netShown(model, viewOf(model), DAY)
  const began = performance.now()
  await new ELK().layout({
    id: 'root',
    layoutOptions: {
      'elk.algorithm': 'layered',
      'elk.edgeRouting': 'ORTHOGONAL',
      'elk.hierarchyHandling': 'INCLUDE_CHILDREN',
    },
    children: boxesOf(net, net.devices, 'zone').map((box) => ({
      id: `box ${box.key}`,
      children: box.devices.map(({ id }) => ({ id, width: 120, height: 44 })),
    })),
    edges: topologyOf(net).cables.map(({ id, a, b }) => ({ id, sources: [a.device.id], targets: [b.device.id] })),
  })
  return performance.now() - began
}

console.log(
  '\nA network in its zones, lines, ports and words included, against elkjs on the same one without words (must be under 1 000 ms for 300 devices in 8 zones)',
)
for (const [devices, zones] of [
  [40, 4],
  [120, 6],
  [300, 8],
] as const) {
  const model = networkOf({ devices, zones })
  const ours = median(5, () => void picture('zones').draw(fresh(model), viewOf(model), DAY))
  const elk = await elkTime(model)
  console.log(
    `  ${String(devices).padStart(6)} devices in ${zones} zones  ours ${ms(ours)}  elk ${ms(elk)} (× ${(ours / elk).toFixed(2)})`,
  )
}

console.log(
  '\nGrowth of a network (near-linear is about 4): all rules must be under 1 500 ms, one device down under 100 ms, at 2 000 devices',
)
const sizes = [500, 2000].map((devices) => {
  const model = networkOf({
    devices,
    zones: 16,
    cables: 2 * devices,
    addresses: 4 * devices,
    filters: devices,
    flows: devices / 4,
  })
  const down = new Set(['d0'])
  const losing = () => {
    // On the sheet ways are known before anything is taken down.
    const net = netShown(fresh(model), viewOf(model), DAY)
    flowWays(topologyOf(net))
    const began = performance.now()
    lostBy(net, down)
    return performance.now() - began
  }
  const check = makeChecker(registry)
  check(model, DAY)
  let [turn, now] = [0, model]
  const drawn = fresh(model)
  picture('zones').draw(drawn, viewOf(drawn), DAY)
  return {
    'all rules': median(5, () => void findingsOf(registry, fresh(model), DAY)),
    'rules after one address': median(5, () => {
      const step = {
        do: 'set-entity' as const,
        id: asId('d7'),
        path: 'fields.addresses',
        value: [`10.9.0.${++turn}/16`],
      }
      now = apply(now, { label: '', steps: [step] }).model
      check(now, DAY)
    }),
    'one device down': [losing(), losing(), losing()].sort((a, b) => a - b)[1] ?? 0,
    zones: median(1, () => void picture('zones').draw(fresh(model), viewOf(model), DAY)),
    'taken down on the sheet': median(5, () => {
      const view = { ...viewOf(drawn), options: { down: [`d${turn++ % 9}`] } }
      picture('zones').draw(drawn.with({ views: new Map([[view.id, view]]) }), view, DAY)
    }),
    addresses: median(5, () => void picture('addresses').draw(fresh(model), viewOf(model), DAY)),
    'single losses, likely pairs': median(1, () => void lossesOf(netShown(fresh(model), viewOf(model), DAY))),
  }
})
const [small, large] = sizes
for (const what of Object.keys(small ?? {}) as (keyof NonNullable<typeof small>)[]) {
  const [a, b] = [small?.[what] ?? 0, large?.[what] ?? 0]
  console.log(`  ${what.padEnd(28)} ${ms(a)}  ${ms(b)}  × ${(b / a).toFixed(1)}`)
}
