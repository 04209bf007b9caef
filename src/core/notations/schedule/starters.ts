import { starterFrom, type Starter } from '../../notation'
import { handling } from './handling'
import { outline } from './outline'

const starter = starterFrom(outline, handling.view, { plan: '' })

export const starters: readonly Starter[] = [
  starter(
    'project',
    'Small project',
    'Three groups, links, two milestones',
    `Prepare
  Agree on the aim  3d
  Choose a supplier  10d  after 1.1
  milestone: Contract signed  after 1.2
Build
  Draft the design  8d  after 1.3
  Build it  20d  after 2.1
  Write the instructions  6d  after 2.2SS+5d
Bring in
  Train everybody  4d  after 2.2, 2.3
  Move the data  2d  after 2.2
  milestone: In use  after 3.1, 3.2`,
  ),
  starter(
    'event',
    'Event to a fixed day',
    'Everything counts back from one date',
    `Book the hall  5d
Invite the guests  10d  after 1
Order the food  3d  after 2
Set up the hall  1d  after 3
milestone: Doors open  after 4`,
  ),
]
