import { starterFrom, type Starter } from '../../notation'
import { handling } from './handling'
import { outline } from './outline'

const starter = starterFrom(outline, handling.view)

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
    join all
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
