import { apply, asDay, asId, Model, type Entity, type Relation, type View } from '../core/model'
import { outline } from '../core/notations/uml/outline'
import { calledByName } from './named'

/** The booking software of Marram Sound Ferries, as its outline: one line a fact. */
const CLASSES = `
basics  (package)
  Money  (data type)
    + amount : Real
    + currency : String = "EUR"
    + plus(other : Money) : Money {query}
  Date  (primitive)
  DateTime  (primitive)
  Page  (data type)
    + lines : String [1..*] {ordered}
  Language  (enumeration)
    english
    danish
    german
booking  (package)
  Document  (abstract)
    # reference : String {id}
    # issuedOn : Date
    + print() : Page {abstract}
    + cancel(reason : String)
    owns 1..* Page as pages  each 0..1
  Ticket  table: ticket  system: Booking service
    is a Document
    realises Refundable
    - seats : Integer = 1
    - state : TicketState = reserved
    - validUntil : DateTime [0..1]
    + print() : Page
    + cancel(reason : String)
    + refund() : Money
    has 1..* Leg as legs {ordered}  each * as tickets
    has 1 Passenger as holder  each * as tickets
  SeasonTicket  (final)  table: season_ticket  system: Booking service
    is a Document
    - from : Date
    - to : Date
    + print() : Page
    has 1 Passenger as holder
    has 1..* Route as routes
  TicketState  (enumeration)
    reserved
    paid
    used
    cancelled
    refunded
  Booking  table: booking  system: Booking service
    - number : String {id}
    - bookedOn : DateTime
    / total : Money
    + book(seats : Integer, on : Leg) : Ticket
    + confirm()
    owns 1..* Ticket as tickets  each 1
    has 1 Passenger as bookedBy  each * as bookings
    has 0..1 Vehicle as vehicle
    uses Tariff
  Passenger  table: passenger  system: Booking service
    - name : String
    - email : String [0..1]
    - language : Language = english
    + notify(text : String)
  Vehicle
    - plate : String
    - length : Real
    / isLong : Boolean
  Refundable  (interface)
    + refund() : Money
sailing  (package)
  Route  table: route
    - code : String {id}
    - name : String
    owns 2..* Call as calls {ordered}  each 1 as route
  Call
    - minutes : Integer
    has 1 Port as port
  Port  table: port
    - name : String
    - country : String
  Ship  table: ship
    - name : String
    - cars : Integer
    - berths : Integer = 0
    owns * Deck as decks  each 1
  Deck
    - name : String
    - clearance : Real
  Sailing  table: sailing
    - leaves : DateTime
    - isCancelled : Boolean = false
    + delay(minutes : Integer)
    + cancel(reason : String)
    owns 1..* Leg as legs {ordered}  each 1 as sailing
    has 1 Route as route
    has 0..1 Ship as ship  each *
  Leg  table: leg
    - leaves : DateTime
    / delayed : Boolean
    + rebook(to : Leg)
    has 1 Port as from
    has 1 Port as to
money  (package)
  Payment  (abstract)
    # amount : Money
    # paidOn : DateTime [0..1]
    + settle() : Boolean {abstract}
    has 1 Booking as of  each * as payments
  CardPayment  table: card_payment
    is a Payment
    - cardEnd : String
    + settle() : Boolean
  VoucherPayment  table: voucher_payment
    is a Payment
    + settle() : Boolean
    has 1 Voucher as voucher
  Voucher  table: voucher
    is a Document
    - worth : Money
    - left : Money
    + print() : Page
  Refund  table: refund
    - amount : Money
    - paidOn : DateTime [0..1]
    has 1 Ticket as of  each 0..1 as refund
    owns 0..1 Voucher as voucher  each 1
  Tariff
    + priceOf(leg : Leg, seats : Integer) : Money {query}
    owns * Fare as fares  each 1
    owns * Voucher as campaigns  each 1
  Fare
    - name : String
    - price : Money
    has 1 Route as route`

const VIEW: View = {
  id: asId('tickets'),
  notation: 'uml',
  picture: 'classes',
  title: 'Booking software',
  order: 15,
  scope: {},
  options: {},
  pins: {},
  look: {},
}

/** The day that the outline is read on: what begins later is stated as well. */
const DAY = asDay('2026-01-01')

/** The classes; the systems that they belong to are those of the processes. */
export function classFacts(systems: readonly Entity[]): { entities: Entity[]; relations: Relation[] } {
  const begun = Model.of({ entities: systems, views: [VIEW] })
  let count = 0
  const newId = () => asId(`uml-${++count}`)
  const outcome = outline.paste({ model: begun, view: VIEW, day: DAY, selection: [], newId }, undefined, CLASSES)
  if ('refused' in outcome) throw new RangeError(`the demo’s classes: ${outcome.refused}`)
  const model = calledByName(apply(begun, outcome.change).model, /^uml-\d+$/, ['package', 'class'])
  const known = new Set(systems.map(({ id }) => id))
  return {
    entities: [...model.entities.values()].filter(({ id }) => !known.has(id)),
    relations: [...model.relations.values()],
  }
}

export const classViews: readonly View[] = [
  VIEW,
  { ...VIEW, id: asId('ticket-classes'), title: 'Around the ticket', order: 16, scope: { class: 'class-ticket' } },
  { ...VIEW, id: asId('software-packages'), picture: 'packages', title: 'What depends on what', order: 18 },
  { ...VIEW, id: asId('money-classes'), title: 'Money', order: 17, scope: { package: 'package-money' } },
]
