import { asDay, type Model } from '../../src/core/model'
import { registry } from '../../src/core/notations'
import { figureOf, figureView, mapOf, type Line } from '../../tests/figureShapes'
import { median } from './organisations'

const DAY = asDay('2026-11-24')
const ms = (value: number) => `${value.toFixed(1)} ms`.padStart(10)
const pictures = registry.notations.find(({ id }) => id === 'figure')?.pictures.filter(({ arranges }) => arranges) ?? []
const linesOf = (count: number): Line[] =>
  Array.from({ length: count }, (_, at) => ({
    text: `Part ${at + 1} of what is told`,
    fields: { value: 10 + at, across: at % 10, up: (at * 3) % 10 },
    under: [{ text: 'what is said of it' }, { text: 'and something more' }],
  }))
const fresh = (model: Model) => model.with({ entities: new Map(model.entities) })

console.log('\nFigures of seven parts: each arrangement must be under 15 ms')
const model = figureOf(linesOf(7))
const times = pictures
  .map((picture) => ({
    title: picture.title,
    time: median(7, () => void picture.draw(fresh(model), figureView(picture.id), DAY)),
  }))
  .sort((a, b) => b.time - a.time)
for (const { title, time } of times.slice(0, 5)) console.log(`  ${title.padEnd(28)}${ms(time)}`)
console.log(`  all ${times.length} together${' '.repeat(14)}${ms(times.reduce((sum, { time }) => sum + time, 0))}`)

console.log('\nGrowth with the number of parts, all arrangements')
const [few = 1, many = 1] = [15, 60].map((count) => {
  const large = figureOf(linesOf(count))
  return median(3, () => pictures.forEach((picture) => void picture.draw(fresh(large), figureView(picture.id), DAY)))
})
console.log(`  15 and 60 parts             ${ms(few)} ${ms(many)}  × ${(many / few).toFixed(1)}`)

console.log('\nConcept maps on A3, laid out: 60 concepts and 90 links must be under 500 ms')
const map = registry.notations.find(({ id }) => id === 'figure')?.pictures.find(({ id }) => id === 'concepts')
const paper = figureView('concepts', { paper: 'A3', across: true })
for (const [concepts, links] of [
  [15, 22],
  [60, 90],
] as const)
  console.log(
    `  ${`${concepts} concepts, ${links} links`.padEnd(28)}${ms(median(5, () => void map?.draw(mapOf(concepts, links), paper, DAY)))}`,
  )
