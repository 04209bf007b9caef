import { apply, asDay, asId, Model, type Entity, type Relation, type View } from '../core/model'
import { handling } from '../core/notations/figure/handling'

/** A figure of Marram Sound Ferries: its lines, and how they are arranged. */
interface Told {
  readonly key: string
  readonly title: string
  readonly picture: string
  readonly look?: View['look']
  readonly fields?: Entity['fields']
  readonly lines: string
}

const { outline } = handling

const FIGURES: readonly Told[] = [
  {
    key: 'when-cancelled',
    title: 'When a sailing is cancelled, again and again',
    picture: 'ring',
    lines: `
Hear of it
  Weather desk, masters
Decide
  Duty controller, within 20 min
Tell people
  Boards, text message, web
Look after them
  Vouchers, coach, room
Learn
  Report within a week`,
  },
  {
    key: 'why-ticketing',
    title: 'Why the ticketing is replaced',
    picture: 'rows',
    lines: `
Support ends
  The maker mends faults until 30 June 2027, then nobody does
Refunds take nine days
  Each is typed into two programs by hand
Groups are sold by telephone
  A third of all desk hours in summer
No sale on board
  The gates at the quay know nothing of the ship’s till`,
  },
  {
    key: 'what-first',
    title: 'What is mended first in the port halls',
    picture: 'placed',
    fields: { across: 'Effort', up: 'Use to passengers' },
    lines: `
Boards that say why  (at 2 8)
  In words, not as a code
Doors at berth 3  (at 8 9)
Benches under the roof  (at 3 5)
New paint  (at 5 2)
Wireless in the hall  (at 6 6)
Warm drinks after 22:00  (at 4 4)`,
  },
  {
    key: 'summer',
    title: 'The summer in numbers',
    picture: 'big-number',
    lines: `
Sailings  (4,212)
  of 4,318 in the timetable
On time  (93 %)
  within five minutes
Passengers  (612,400)
Vehicles  (148,900)
Cancelled for weather  (71)
Complaints answered within a week  (88 %)`,
  },
  {
    key: 'who-on-board',
    title: 'Who can stand in on board',
    picture: 'overlap',
    lines: `
First aid  = people with First aid
Radio  = people with Radio
Crowd handling  = people with Crowd handling`,
  },
  {
    key: 'what-weather-does',
    title: 'What the weather does to a sailing',
    picture: 'concepts',
    fields: { question: 'Why is a ship cancelled on one crossing and sails on another?' },
    lines: `
Weather
  brings: Wind
  brings: Fog
Wind
  raises: Sea
  sets limits to: Berthing
Fog
  shortens: Sight
Sea
  tires: Passengers
  sets limits to: Crossing
Sight
  sets limits to: Berthing
Berthing
  needs: Tugs
  ends: Crossing
Crossing
  is sailed by: Ship
  is decided on by: Duty controller
Ship
  has its own: Limits
Limits
  are read by: Duty controller
Duty controller
  asks: Master
  tells: Passengers
Master
  knows: Ship
Tugs
  come from: Northfield`,
  },
  {
    key: 'ready-to-sail',
    title: 'Before a ship sails',
    picture: 'checklist',
    look: { paper: 'A5' },
    lines: `
Crew complete  (done)
Car deck secured  (done)
Bow door shut and locked  (done)
Passenger count told to shore  (open)
Weather for the crossing read  (open)`,
  },
]

/** The views of the figures, from an order on, and their facts. */
export function figureFacts(from: number): {
  readonly entities: readonly Entity[]
  readonly relations: readonly Relation[]
  readonly views: readonly View[]
} {
  const made = FIGURES.map(({ key, title, picture, look, fields = {}, lines }, at) => {
    const figure = asId(key)
    const view: View = {
      ...handling.view(() => asId(`figure-${key}`), title),
      picture,
      order: from + at,
      scope: { figure },
      ...(look ? { look } : {}),
    }
    const empty = Model.of({ entities: [{ id: figure, kind: 'figure', name: title, fields }], views: [view] })
    let count = 0
    const newId = () => asId(`${key}-${++count}`)
    const day = asDay('2026-11-24')
    const outcome = outline?.paste({ model: empty, view, day, selection: [], newId }, undefined, lines)
    if (!outcome || 'refused' in outcome) throw new RangeError(outcome?.refused ?? 'no outline')
    return apply(empty, outcome.change).model
  })
  return {
    entities: made.flatMap(({ entities }) => [...entities.values()]),
    relations: made.flatMap(({ relations }) => [...relations.values()]),
    views: made.flatMap(({ views }) => [...views.values()]),
  }
}
