import { apply, asDay, asId, Model, type Entity, type Relation, type View } from '../core/model'
import { stateOutline } from '../core/notations/uml/states/outline'
import { calledByName } from './named'

/** What a ticket of Marram Sound Ferries goes through, as its outline. Nobody leaves the waiting list. */
const TICKET = `
(initial)
  -> Reserved
Reserved  entry: hold the seats
  on remind / send a message
  on pay [amount >= price] / issue -> Valid
  on pay [amount < price] / ask for the rest -> Reserved
  on after 20 min / release the seats -> Lapsed
Valid
  on sailing cancelled / tell the holder -> Choosing
  on cancel -> Settling
  -> Used
  (initial)
    -> Issued
  (history)
    -> Issued
  Issued
    on check in -> Checked in
  Checked in  entry: print the boarding card
    on board -> Aboard
    on leave the queue -> Issued
  Aboard
    on arrive -> final
  (final)
Choosing  do: wait for an answer
  on rebook [seats free > 0] / move the legs -> history
  on rebook [seats free = 0] -> Waiting list
  on refund -> Settling
Waiting list  entry: note the holder
Settling
  -> How paid
How paid  (choice)
  [paid by = card] / pay back -> Refunded
  [paid by = voucher] / issue a voucher -> Refunded
  [else] -> By hand
By hand  do: ask the counter
  on paid back -> Refunded
Lapsed
  -> final
Used
  -> final
Refunded
  -> final
(final)`

/** How a ship is boarded: cars and passengers at once. */
const BOARDING = `
(initial)
  -> Closed
Closed
  on ship moored -> Boarding
Boarding
  on abandon / tell the bridge -> Closed
  Cars  (region)
    (initial)
      -> Lining up
    Lining up
      on ramp down -> Driving on
    Driving on  do: count the cars
      on last car [cars <= 120] -> Cars done
      on last car [cars > 120] / turn the rest away -> Cars done
    Cars done
      -> All aboard
  Passengers  (region)
    (initial)
      -> At the gate
    At the gate
      on gate open -> Walking on
    Walking on  do: scan the tickets
      on gate shut -> Passengers done
    Passengers done
      -> All aboard
All aboard  (join)
  -> Ready to sail
Ready to sail
  on cast off -> final
(final)`

const MACHINES = [
  { id: 'machine-ticket', name: 'Life of a ticket', text: TICKET, class: 'class-ticket', prefix: 'ts' },
  { id: 'machine-boarding', name: 'Boarding', text: BOARDING, class: undefined, prefix: 'bs' },
] as const

const DAY = asDay('2026-01-01')

const viewOf = (machine: string, title: string, order: number): View => ({
  id: asId(machine.replace('machine', 'states')),
  notation: 'uml',
  picture: 'states',
  title,
  order,
  scope: { machine },
  options: {},
  pins: {},
  look: {},
})

/** The state machines, with the classes whose lives they are. */
export function stateFacts(): { entities: Entity[]; relations: Relation[] } {
  const all = MACHINES.map(({ id, name, text, class: of, prefix }, at) => {
    const home: Entity = {
      id: asId(id),
      kind: 'machine',
      name,
      fields: { ...(of === undefined ? {} : { class: of }), order: at + 1 },
    }
    const view = viewOf(id, name, at)
    const begun = Model.of({ entities: [home], views: [view] })
    let count = 0
    const newId = () => asId(`${prefix}-${++count}`)
    const outcome = stateOutline.paste({ model: begun, view, day: DAY, selection: [], newId }, undefined, text)
    if ('refused' in outcome) throw new RangeError(`the demo’s states: ${outcome.refused}`)
    return calledByName(apply(begun, outcome.change).model, new RegExp(`^${prefix}-\\d+$`), ['state'])
  })
  return {
    entities: all.flatMap((model) => [...model.entities.values()]),
    relations: all.flatMap((model) => [...model.relations.values()]),
  }
}

export const stateViews: readonly View[] = MACHINES.map(({ id, name }, at) => viewOf(id, name, 19 + at))
