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
    'gantt milestones plan phases work breakdown',
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
    'conference party wedding fair countdown deadline',
  ),
  starter(
    'kickoff',
    'From kick-off to use',
    'The first weeks of a project, day by day',
    `Begin
  milestone: Decision to begin
  Invite to the kick-off  3d  after 1.1
  milestone: Kick-off held  after 1.2
  Write down aims and limits  5d  after 1.3
Shape
  Interview those concerned  8d  after 1.4
  Draft the solution  6d  after 2.1
  milestone: Solution agreed on  after 2.2
Make
  Build and test  20d  after 2.3
  Train the first team  3d  after 3.1
  milestone: In use  after 3.2`,
    'kickoff kick-off project start launch go-live',
  ),
  starter(
    'office-move',
    'Moving the office',
    'Rooms, network, people and the day itself',
    `Rooms
  Measure and plan desks  5d
  Order furniture  3d  after 1.1
  Paint and floor  8d  after 1.1
Network
  Order the line  2d
  Lay the cables  6d  after 1.3
  Test the wireless  2d  after 2.2
People
  Say who sits where  3d  after 1.1
  Pack  2d  after 3.1
milestone: Day of the move  after 1.2, 2.3, 3.2
Help at the new desks  3d  after 4`,
    'relocation move office facilities desks',
  ),
  starter(
    'audit',
    'Preparing an audit',
    'What is gathered, checked and mended before the day',
    `Agree on the scope  2d
Gather the evidence  10d  after 1
Check it ourselves  4d  after 2
Mend what is missing  8d  after 3
Rehearse the interviews  2d  after 4
milestone: Audit begins  after 5
Answer the findings  10d  after 6`,
    'audit compliance certification inspection iso evidence',
  ),
  starter(
    'release',
    'A release of software',
    'Frozen, tested, released, watched',
    `Freeze what goes in  1d
Test
  Test what is new  5d  after 1
  Test what was there  4d  after 1
  Mend what is found  3d  after 2.1, 2.2
Release
  Decide  1d  after 2.3
  Bring it in by night  1d  after 3.1
  milestone: Released  after 3.2
Watch it closely  5d  after 3.3`,
    'release software deployment sprint version test',
  ),
  starter(
    'training',
    'A course is prepared',
    'From the need to the last feedback',
    `Ask what is needed  4d
Write the material  12d  after 1
Find a room  2d  after 1
Invite  2d  after 3
milestone: First day of the course  after 2, 4
Hold the course  3d  after 5
Read the feedback  2d  after 6`,
    'course training workshop seminar learning',
  ),
]
