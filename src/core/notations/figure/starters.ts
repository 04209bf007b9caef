import { starterFrom, type Starter } from '../../notation'
import { handling } from './handling'
import { mapOutline } from './maps/outline'
import { outline } from './outline'

/** A starter in an arrangement, on paper. */
const starter = (picture: string, id: string, title: string, summary: string, list: string): Starter =>
  starterFrom(
    picture === 'concepts' ? mapOutline : outline,
    (newId, named) => ({ ...handling.view(newId, named), picture }),
    { figure: '' },
  )(id, title, summary, list)

export const starters: readonly Starter[] = [
  starter(
    'cards',
    'what-we-offer',
    'What we offer',
    'Six things at a glance',
    `Advice\n  Before anything is bought\nDelivery\n  Within two working days\nSetting up\n  On your premises\nTraining\n  Half a day for each team\nHelp\n  On working days, 7 to 19\nTaking back\n  What is no longer used`,
  ),
  starter(
    'rows',
    'decisions',
    'Decisions to take',
    'Each with what hangs on it',
    `Budget of the year\n  Needed before hiring begins\nPlace of the archive\n  The lease ends in June\nHours of the desk\n  Evenings are asked for most`,
  ),
  starter(
    'compare',
    'two-options',
    'Two options',
    'Compared line by line',
    `Mend what we have\n  Ready in a month\n  Costs little now\n  Fails again in two years\nBuy a new one\n  Ready in half a year\n  Costs a lot now\n  Lasts ten years`,
  ),
  starter(
    'checklist',
    'ready-to-open',
    'Ready to open?',
    'What is done and what is open',
    `Keys handed out  (done)\nAlarm tested  (done)\nSigns put up  (open)\nCards for the till  (open)\nFirst-aid box filled  (open)`,
  ),
  starter(
    'arrows',
    'from-idea',
    'From idea to use',
    'Five steps to a result',
    `Idea\n  Anybody, on a page\nTrial\n  One team, one month\nDecision\n  With the numbers of the trial\nRoll-out\n  Site by site\nReview\n  After half a year`,
  ),
  starter(
    'stairs-up',
    'skills',
    'How skills grow',
    'Steps that build on one another',
    `Watch\nHelp\nDo it with help\nDo it alone\nTeach it`,
  ),
  starter(
    'ring',
    'improve',
    'Improve, again and again',
    'Four parts that come round',
    `Measure\n  What happens now\nUnderstand\n  Why it happens\nChange\n  One thing at a time\nCompare\n  With what was measured`,
  ),
  starter(
    'gates',
    'stages',
    'Stages of a purchase',
    'Each is left after a decision',
    `Need\n  Written down and costed\nOffers\n  Three at least\nContract\n  Read by a second person\nDelivery\n  Checked against the contract`,
  ),
  starter(
    'pyramid',
    'what-it-rests-on',
    'What it rests on',
    'From the base to the tip',
    `Trust\nGood service\nTrained people\nSafe tools and places`,
  ),
  starter(
    'quadrants',
    'effort-and-use',
    'Effort and use',
    'Four cases of two questions',
    `Great use, little effort\n  Do it now\nGreat use, great effort\n  Plan it\nLittle use, little effort\n  When there is time\nLittle use, great effort\n  Leave it`,
  ),
  starter(
    'spokes',
    'who-is-touched',
    'Who is touched',
    'Everybody around one change',
    `Customers\n  New times, told a month before\nDesk\n  Two more calls an hour\nDrivers\n  Other shifts\nSuppliers\n  One address instead of three\nNeighbours\n  Less traffic at night`,
  ),
  starter(
    'big-number',
    'year-in-numbers',
    'The year in numbers',
    'Numbers that speak for themselves',
    `Calls answered  (48,200)\nWithin a minute  (91 %)\nComplaints  (312)\nPeople at the desk  (17)`,
  ),
  starter(
    'scale',
    'for-and-against',
    'For and against',
    'Reasons on two sides',
    `For\n  Shorter ways\n  One key for all doors\n  Lower rent\nAgainst\n  Fewer desks than people\n  A year of building`,
  ),
  starter(
    'tree-across',
    'parts-of-a-project',
    'Parts of a project',
    'What the work is made up of',
    `Move the office\n  Rooms\n    Plan of desks\n    Partition walls\n  Network\n    Cables\n    Wireless\n  People\n    Who sits where\n    Day of the move`,
  ),
  starter(
    'overlap',
    'where-teams-meet',
    'Where teams meet',
    'Two or three sets, and what they share',
    `Sales\n  Prices\n  Visits\nService\n  Repairs\n  Spare parts\nSales & Service\n  Contracts\n  What customers ask for`,
  ),
  starter(
    'frames',
    'places-in-pictures',
    'Our places',
    'Pictures with a word each, to be dropped in',
    `Front desk\n  Where visitors come in\nWorkshop\n  Ground floor, at the back\nStore\n  Open on working days`,
  ),
  starter(
    'concepts',
    'how-it-hangs-together',
    'How it hangs together',
    'Concepts, and what one has to do with another',
    `Complaint\n  is written by: Customer\n  is answered by: Desk\n  is about: Product\nCustomer\n  has bought: Product\nDesk\n  asks: Workshop\nWorkshop\n  mends: Product\n  tells of faults: Design\nDesign\n  changes: Product`,
  ),
]
