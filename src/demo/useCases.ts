import { apply, asDay, asId, Model, type Entity, type Relation, type View } from '../core/model'
import { caseOutline } from '../core/notations/uml/usecases/outline'
import { calledByName } from './named'

/** Who gets what done with the booking software of Marram Sound Ferries, as its outline. */
const CASES = `
Passenger  (actor)
Company customer  (actor)
  is a Passenger
Passenger desk  (actor)  role: Passenger desk
Refunds clerk  (actor)  role: Refunds clerk
Duty controller  (actor)  role: Duty controller
Card service  (actor)
Booking software  (subject)  system: Booking service
  Book a trip
    includes Pay
  Change a booking
    includes Find the booking
  Give back a ticket
    includes Find the booking
  Book a group
    is a Book a trip
  Pay
  Find the booking
  Take a vehicle along
    extends Book a trip  if: there is room on the car deck
  Check in
    includes Find the booking
  Cancel a sailing
  Rebook passengers
    extends Cancel a sailing  if: there is another sailing
Passenger: Book a trip
Passenger: Change a booking
Passenger: Give back a ticket
Company customer: Book a group
Passenger desk: Check in
Passenger desk: Change a booking
Refunds clerk: Give back a ticket
Duty controller: Cancel a sailing
Card service: Pay`

const VIEW: View = {
  id: asId('use-cases'),
  notation: 'uml',
  picture: 'use-cases',
  title: 'What the booking software is for',
  order: 23,
  scope: {},
  options: {},
  pins: {},
  look: {},
}

const DAY = asDay('2026-01-01')

/** The use cases; systems and roles are those of the processes and of the organisation. */
export function caseFacts(known: readonly Entity[]): { entities: Entity[]; relations: Relation[] } {
  const begun = Model.of({ entities: known, views: [VIEW] })
  let count = 0
  const newId = () => asId(`uc-${++count}`)
  const outcome = caseOutline.paste({ model: begun, view: VIEW, day: DAY, selection: [], newId }, undefined, CASES)
  if ('refused' in outcome) throw new RangeError(`the demo’s use cases: ${outcome.refused}`)
  const model = calledByName(apply(begun, outcome.change).model, /^uc-\d+$/, ['use-case', 'actor', 'subject'])
  const there = new Set(known.map(({ id }) => id))
  return {
    entities: [...model.entities.values()].filter(({ id }) => !there.has(id)),
    relations: [...model.relations.values()],
  }
}

export const caseViews: readonly View[] = [VIEW]
