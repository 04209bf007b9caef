import { readWhen, whenInWords, type Instant } from '../../../calendar'
import { changed, setView, setField, type Outcome, type Pull, type Wish } from '../../../notation'
import { textOf } from '../work'
import { BASE, factsOf, scaleAgain } from './timeScale'

const NOTHING: Outcome = changed('', [])
const LEVEL = 22
const TYPED = {
  refused: 'Dates stand evenly apart here, those of the plan among them: type the date, or choose true distances.',
}

/** Along the line a date changes, as exactly as it is known; across it a callout changes its side and how far out it stands. */
export function pullEvent(wish: Wish, { handle, by, box }: Pull): Outcome {
  const { model, view } = wish
  const [id] = wish.selection
  const entity = id === undefined ? undefined : model.entities.get(id)
  if (!entity) return { refused: 'It is no longer there.' }
  // The handle says what is pulled, of an event how far beneath the top of its callout the line runs, and how long that is.
  const [pulled, ...numbers] = handle.split(' ')
  const scale = scaleAgain(view, factsOf(model, view), pulled === 'place' ? numbers.slice(1) : numbers)
  const moved = (field: string): string | undefined => {
    const stated = textOf(entity, field)
    const when = readWhen(stated ?? '')
    return scale && when && writeAs(scale.at(scale.x(when.from) + by.x), when.precision)
  }
  if (entity.kind === 'era') {
    if (!scale) return TYPED
    const fields = pulled === 'both' ? ['when', 'until'] : [pulled === 'until' ? 'until' : 'when']
    const steps = fields.flatMap((field) => {
      const next = moved(field)
      return next === undefined || next === textOf(entity, field) ? [] : [setField(entity.id, field, next)]
    })
    if (steps.length === 0) return NOTHING
    const [from, to] = ['when', 'until'].map((field) => (fields.includes(field) ? moved(field) : textOf(entity, field)))
    const label = `“${entity.name}” from ${whenInWords(from ?? '')} to ${whenInWords(to ?? '')}`
    const ghost = {
      ...box,
      x: box.x + (pulled === 'until' ? 0 : by.x),
      width: Math.max(3, box.width + (pulled === 'until' ? by.x : pulled === 'when' ? -by.x : 0)),
    }
    return changed(label, steps, { ghosts: [ghost] })
  }
  if (Math.abs(by.y) > LEVEL && Math.abs(by.y) > Math.abs(by.x)) {
    const line = box.y + Number(numbers[0])
    const above = box.y + by.y + box.height / 2 < line
    const out = Math.max(
      BASE,
      Math.round((above ? line - (box.y + by.y + box.height) : box.y + by.y - line) / LEVEL) * LEVEL,
    )
    return changed(
      `Put “${entity.name}” ${above ? 'above' : 'below'} the line`,
      [setView(view.id, `pins.${entity.id}`, [0, above ? -out : out])],
      { ghosts: [{ ...box, y: box.y + by.y }] },
    )
  }
  if (!scale) return TYPED
  const next = moved('when')
  if (next === undefined || next === textOf(entity, 'when')) return NOTHING
  return changed(`“${entity.name}” in ${whenInWords(next)}`, [setField(entity.id, 'when', next)], {
    ghosts: [{ ...box, x: box.x + by.x }],
  })
}

/** An instant as a date of this precision. */
function writeAs(at: Instant, precision: 'year' | 'month' | 'day' | 'minute'): string {
  const date = new Date(Math.round(at) * 60_000)
  const year = date.getUTCFullYear()
  const written = `${year < 0 ? '-' : ''}${String(Math.abs(year)).padStart(4, '0')}`
  const two = (value: number) => String(value).padStart(2, '0')
  const month = `${written}-${two(date.getUTCMonth() + 1)}`
  const day = `${month}-${two(date.getUTCDate())}`
  if (precision === 'year') return written
  if (precision === 'month') return month
  return precision === 'day' ? day : `${day}T${two(date.getUTCHours())}:${two(date.getUTCMinutes())}`
}
