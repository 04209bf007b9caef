import { apply, asDay, asId, Model, type Entity, type Relation, type View } from '../core/model'
import { componentOutline } from '../core/notations/uml/components/outline'
import { calledByName } from './named'

/** What the booking software of Marram Sound Ferries consists of, and the devices that it runs on, as its outline. */
const PARTS = `
Booking site  (component)
  requires Bookings
  requires Sign-in
Desk application  (component)
  requires Bookings
Booking core  (component)  system: Booking service
  provides Bookings
  port ledger
    requires Entries
  port messages
    requires Messages
  uses Fare rules
Fare rules  (component)
Accounts  (component)
  provides Sign-in
Notice sender  (component)  system: Notice sender
  provides Messages
Ledger  (component)  system: Ledger
  provides Entries
Web server 1  (node)  device: web-1
  deploys Booking site
Web server 2  (node)  device: web-2
  deploys Booking site
Ticketing server  (node)  device: tick-app-1
  Runtime  (node)
    deploys Booking core
    deploys Fare rules
    deploys Accounts
Desk computer  (node)  device: desk-marram-1
  deploys Desk application
Notice server  (node)  device: notice-1
  deploys Notice sender
Ledger server  (node)  device: ledger-1
  deploys Ledger`

const VIEW: View = {
  id: asId('components'),
  notation: 'uml',
  picture: 'components',
  title: 'What runs where',
  order: 24,
  scope: {},
  options: {},
  pins: {},
  look: {},
}

const DAY = asDay('2026-01-01')

/** Components and nodes; systems are those of the processes, devices those of the network. */
export function componentFacts(known: readonly Entity[]): { entities: Entity[]; relations: Relation[] } {
  const begun = Model.of({ entities: known, views: [VIEW] })
  let count = 0
  const newId = () => asId(`cp-${++count}`)
  const outcome = componentOutline.paste({ model: begun, view: VIEW, day: DAY, selection: [], newId }, undefined, PARTS)
  if ('refused' in outcome) throw new RangeError(`the demo’s components: ${outcome.refused}`)
  const model = calledByName(apply(begun, outcome.change).model, /^cp-\d+$/, ['component', 'deployment-node', 'class'])
  const there = new Set(known.map(({ id }) => id))
  return {
    entities: [...model.entities.values()].filter(({ id }) => !there.has(id)),
    relations: [...model.relations.values()],
  }
}

export const componentViews: readonly View[] = [VIEW]
