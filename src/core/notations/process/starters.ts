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
    'approve sign-off workflow form authorisation',
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
    'outage fault support itil ticket disruption',
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
    'simple sequence procedure flow basic',
  ),
  starter(
    'onboarding',
    'Somebody new begins',
    'From the signed contract to the first day, across three lanes',
    `start: Contract signed @ People
Tell the team and the desk
at once
  –
    Order the computer @ Service desk
    Set up the accounts
  –
    Plan the first week @ Team lead
join all
Welcome on the first day @ Team lead
end: First day done`,
    'onboarding hire hiring newcomer employee joiner induction starter',
  ),
  starter(
    'leaving',
    'Somebody leaves',
    'Accounts, keys and knowledge are handed back',
    `start: Notice given @ Team lead
Agree on the last day
at once
  –
    Hand over the work @ Leaver
    Give back keys and devices
  –
    Close the accounts @ Service desk
join all
Confirm that all is back @ People
end: Left`,
    'offboarding exit resignation leaver quit departure',
  ),
  starter(
    'escalation',
    'Escalation',
    'Who takes over when it takes too long',
    `start: Call received @ First line
Try to solve it
Solved within the hour?
  yes 70 %
    Tell the caller
  no 30 %
    Hand it over with notes
    Find the cause @ Second line
    Does it touch many?
      yes 20 %
        Call the duty manager
        Decide on the way out @ Duty manager
      no 80 %
        Repair it @ Second line
Close the call @ First line
end: Call closed`,
    'escalate support tier levels helpdesk urgent',
  ),
  starter(
    'purchase',
    'Purchase',
    'Need, offers, approval, order, goods received',
    `start: Something is needed @ Requester
Describe the need
Ask for offers @ Purchasing
Above the limit?
  yes 30 %
    Approve the purchase @ Budget holder
  no 70 %
Place the order @ Purchasing
Check the goods @ Requester
Pay the invoice @ Accounts
end: Paid`,
    'procurement buying order supplier invoice requisition',
  ),
  starter(
    'complaint',
    'Complaint',
    'Heard, looked into, answered, learnt from',
    `start: Complaint arrives @ Customer desk
Thank and record
Look into it
Is it justified?
  yes 60 %
    Offer to make it good
  no 40 %
    Explain why not
Answer in writing
Note what is to be changed @ Quality
end: Complaint settled`,
    'customer claim feedback return refund service',
  ),
  starter(
    'change',
    'Change to a service',
    'Asked for, weighed, decided, made, looked back on',
    `start: Change asked for @ Requester
Describe the change and its risk
Is it a routine one?
  yes 50 %
    Make the change @ Engineer
  no 50 %
    Weigh risk and time @ Change board
    Is it agreed to?
      yes 80 %
        Make it in the agreed hours @ Engineer
      no 20 %
        Tell the requester why @ Change board
Look back on it @ Change board
end: Change closed`,
    'change request rfc release board cab deployment',
  ),
  starter(
    'leave',
    'Leave',
    'Asked for, checked against others, granted',
    `start: Leave is wanted @ Employee
Enter the days
Check who else is away @ Team lead
Is the team covered?
  yes 90 %
    Grant the leave
  no 10 %
    Agree on other days
Note it in the calendar @ People
end: Leave settled`,
    'holiday vacation absence time off request',
  ),
  starter(
    'access',
    'Access to a system',
    'Asked for, approved, given, and looked at again',
    `start: Access is needed @ Employee
Ask for the access
Is it right for the role? @ Team lead
  yes
    Approve it
    Give the access @ Service desk
    Look at it again after half a year @ System owner
  no
    Say why not @ Team lead
end: Access settled`,
    'permission account rights security review',
  ),
  starter(
    'publishing',
    'A text is published',
    'Written, read by a second person, released',
    `start: Topic agreed on @ Writer
Write the draft
Read it with other eyes @ Editor
Is it good enough?
  yes 60 %
    Release it
  no 40 %: go to Write the draft
Tell those who wait for it @ Writer
end: Published`,
    'content editorial review document article newsletter',
  ),
]
