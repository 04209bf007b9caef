import { apply, Model, type Id, type View } from '../../model'
import type { Starter } from '../../notation'
import { outline } from './outline'

/** A view of a process in lanes. */
export const newView = (newId: () => Id, title: string): View => ({
  id: newId(),
  notation: 'process',
  picture: 'lanes',
  title,
  order: 1,
  scope: {},
  options: {},
  pins: {},
  look: {},
})

const starter = (id: string, title: string, summary: string, list: string): Starter => ({
  id,
  title,
  summary,
  make: (newId, day) => {
    const view = newView(newId, title)
    const empty = Model.of({ name: title, views: [view] })
    const outcome = outline.paste({ model: empty, view, day, selection: [], newId }, undefined, list)
    if ('refused' in outcome) throw new RangeError(`starter “${id}”: ${outcome.refused}`)
    return apply(empty, outcome.change).model
  },
})

export const starters: readonly Starter[] = [
  starter(
    'request',
    'Request and approval',
    'Two lanes, one decision, a way back',
    `start: Request arrives @ Requester
Fill in the request
Check the request @ Approver
Is it complete?
  yes
    Approve the request
  no 20 %: go to Fill in the request
end: Request settled`,
  ),
  starter(
    'incident',
    'Incident',
    'Service desk and specialists, things done at once',
    `start: Incident reported @ Service desk
Record the incident
Known error?
  yes 60 %
    Apply the known remedy
  no 40 %
    at once
      –
        Inform the users
      –
        Find the cause @ Specialist
        Repair the service
Confirm with the caller @ Service desk
end: Incident closed`,
  ),
  starter(
    'steps',
    'Plain steps',
    'A row of steps from start to end',
    `start: Order received
Check the order
Pick the goods
Pack the goods
Send the parcel
end: Order sent`,
  ),
]
