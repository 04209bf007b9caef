import { graphlib, layout } from '@dagrejs/dagre'
import ELK from 'elkjs/lib/elk.bundled.js'
import { flowchart, type FlowShape } from '../../src/core/layout'
import { soundnessOf } from '../../src/core/notations/process/soundness'
import { marramSoundFerries } from '../../src/demo'
import { graph, shown } from '../../tests/core/process/facts'
import { madeUpProcess } from '../../tests/processShapes'
import { median } from './organisations'

const ms = (value: number) => `${value.toFixed(1)} ms`.padStart(11)

/** The time elk takes for the same graph without lanes, in ms. */
async function elkTime({ nodes, edges }: FlowShape): Promise<number> {
  const began = performance.now()
  await new ELK().layout({
    id: 'root',
    layoutOptions: { 'elk.algorithm': 'layered', 'elk.edgeRouting': 'ORTHOGONAL' },
    children: nodes.map(({ halfU, halfV }, i) => ({ id: String(i), width: 2 * halfU, height: 2 * halfV })),
    edges: edges.map(({ from, to }, i) => ({ id: `e${i}`, sources: [String(from)], targets: [String(to)] })),
  })
  return performance.now() - began
}

function dagreTime({ nodes, edges }: FlowShape): number {
  const drawn = new graphlib.Graph({ multigraph: true })
  drawn.setGraph({ rankdir: 'LR' })
  nodes.forEach(({ halfU, halfV }, i) => drawn.setNode(String(i), { width: 2 * halfU, height: 2 * halfV }))
  edges.forEach(({ from, to }, i) => drawn.setEdge(String(from), String(to), {}, String(i)))
  const began = performance.now()
  layout(drawn)
  return performance.now() - began
}

console.log(
  '\nLayout of a process in 8 lanes, lines and labels included, against elkjs and dagre on the same graph without lanes',
)
for (const size of [50, 200, 500]) {
  const shape = madeUpProcess(size, 8, 1)
  const ours = median(size < 500 ? 9 : 5, () => void flowchart(shape))
  const [elk, dagre] = [await elkTime(shape), dagreTime(shape)]
  console.log(
    `  ${String(size).padStart(6)} steps  ours ${ms(ours)}  elk ${ms(elk)} (× ${(ours / elk).toFixed(2)})  dagre ${ms(dagre)} (× ${(ours / dagre).toFixed(2)})`,
  )
}

/** Blocks within blocks: sequences, choices, parallel ways and loops in turn, until the steps are used up. */
function blocks(steps: number): string {
  const lines: string[] = []
  let count = 0
  const step = (from: string): string => {
    const name = `s${++count}`
    lines.push(`${from}>${name}`)
    return name
  }
  let at = 'b'
  for (let depth = 0; count < steps; depth++) {
    const sort = ['p', 'x', 'i'][depth % 3] ?? 'p'
    const [open, close] = [`${sort}o${depth}`, `${sort}c${depth}`]
    lines.push(`${at}>${open}`)
    for (let way = 0; way < 3 && count < steps; way++) lines.push(`${step(step(open))}>${close}`)
    at = close
  }
  lines.push(`${at}>e`)
  return lines.join(' ')
}

console.log('\nSoundness as a workflow net (must be under 100 ms for the demo, under 2 000 ms for 100 steps in blocks)')
const demo = median(9, () => void soundnessOf(shown(marramSoundFerries())))
console.log(`  the demo   ${ms(demo)}`)
for (const size of [100, 200, 400]) {
  const process = shown(graph(blocks(size)))
  const { decided } = soundnessOf(process)
  const took = median(5, () => void soundnessOf(process))
  console.log(
    `  ${String(size).padStart(6)} steps ${ms(took)}  ${decided ? 'decided' : 'not decided within the bound'}`,
  )
}
