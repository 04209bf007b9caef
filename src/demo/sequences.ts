import { apply, asDay, asId, Model, type Entity, type View } from '../core/model'
import { sequenceOutline } from '../core/notations/uml/sequences/outline'

/** How a trip is booked at Marram Sound Ferries, as its outline. */
const BOOK = `
Passenger  (actor)  class: Passenger
Booking  (lifeline)  class: Booking
Passenger asks Booking: book(2, leg)
Booking asks Tariff: priceOf(leg, 2)
Tariff answers Booking: price
either seats free
  Booking makes Ticket
  Booking answers Passenger: ticket
  Passenger asks Card payment : CardPayment: settle()
  Card payment : CardPayment answers Passenger: paid
  Passenger tells Booking: confirm()
  while tickets to print
    Booking asks Ticket: print()
    Ticket answers Booking: page
or else
  Booking answers Passenger: sold out`

/** How money goes back after a cancelled sailing; nobody has stated how a ticket is reopened. */
const REFUND = `
Operations  (actor)
Sailing  (lifeline)  class: Sailing
Ticket  (lifeline)  class: Ticket
Passenger  (actor)  class: Passenger
Operations asks Sailing: cancel("storm")
while tickets of the sailing
  Sailing tells Passenger: notify("cancelled")
  either the passenger rebooks
    Passenger asks Leg: rebook(to)
    Leg asks Ticket: reopen(leg)
    Leg answers Passenger
  or the passenger wants the money
    Passenger asks Ticket: refund()
    Ticket makes Refund
    Ticket answers Passenger: amount
Sailing answers Operations: done`

const SEQUENCES = [
  { id: 'sequence-book', name: 'Book a trip', text: BOOK, prefix: 'sb' },
  { id: 'sequence-refund', name: 'Refund after a cancelled sailing', text: REFUND, prefix: 'sr' },
] as const

const DAY = asDay('2026-01-01')

const viewOf = (id: string, title: string, order: number): View => ({
  id: asId(id.replace('sequence-', 'calls-')),
  notation: 'uml',
  picture: 'sequence',
  title,
  order,
  scope: { interaction: id },
  options: {},
  pins: {},
  look: {},
})

/** The sequences; their lifelines are instances of the classes. */
export function sequenceFacts(classes: readonly Entity[]): { entities: Entity[] } {
  const known = new Set(classes.map(({ id }) => id))
  return {
    entities: SEQUENCES.flatMap(({ id, name, text, prefix }, at) => {
      const home: Entity = { id: asId(id), kind: 'interaction', name, fields: { order: at + 1 } }
      const view = viewOf(id, name, at)
      const begun = Model.of({ entities: [...classes, home], views: [view] })
      let count = 0
      const newId = () => asId(`${prefix}-${++count}`)
      const outcome = sequenceOutline.paste({ model: begun, view, day: DAY, selection: [], newId }, undefined, text)
      if ('refused' in outcome) throw new RangeError(`the demo’s sequences: ${outcome.refused}`)
      return [...apply(begun, outcome.change).model.entities.values()].filter((one) => !known.has(one.id))
    }),
  }
}

export const sequenceViews: readonly View[] = SEQUENCES.map(({ id, name }, at) => viewOf(id, name, 21 + at))
