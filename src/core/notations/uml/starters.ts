import { plainView, starterFrom, type Starter } from '../../notation'
import { componentOutline } from './components/outline'
import { handling } from './handling'
import { outline } from './outline'
import { sequenceOutline } from './sequences/outline'
import { stateOutline } from './states/outline'
import { caseOutline } from './usecases/outline'

const starter = starterFrom(outline, handling.view)
const ofPackages = starterFrom(outline, plainView('uml', 'packages'))
const ofComponents = starterFrom(componentOutline, plainView('uml', 'components'))
const ofCases = starterFrom(caseOutline, plainView('uml', 'use-cases'), { subject: '' })
const ofMessages = starterFrom(sequenceOutline, plainView('uml', 'sequence'), { interaction: '' })
const ofStates = starterFrom(stateOutline, plainView('uml', 'states'), { machine: '' })

export const starters: readonly Starter[] = [
  starter(
    'orders',
    'Orders and invoices',
    'Classes of a small shop: what is ordered, by whom, and how it is paid',
    `basics  (package)
  Money  (data type)
    + amount : Real
    + currency : String
  Date  (primitive)
sales  (package)
  Customer
    + name : String
    + email : String [0..1]
    has * Order as orders  each 1 as customer
  Order
    + number : String {id}
    + placedOn : Date
    - state : OrderState = open
    + total() : Money
    owns 1..* OrderLine as lines  each 1
  OrderLine
    + quantity : Integer = 1
    + price : Money
    has 1 Article as article
  Article
    + name : String
    + price : Money
  OrderState  (enumeration)
    open
    paid
    sent
    cancelled
payment  (package)
  Payment  (abstract)
    # amount : Money
    # paidOn : Date [0..1]
    + settle() : Boolean {abstract}
    has 1 Order as order
  CardPayment
    is a Payment
    - reference : String
    + settle() : Boolean
  TransferPayment
    is a Payment
    - account : String
    + settle() : Boolean`,
    'class classes diagram shop entity data model',
  ),
  ofStates(
    'approval',
    'A request through its states',
    'A leave or purchase request from its draft to its answer, with what sends it back',
    `(initial)
  -> Draft
Draft
  on submit [complete] / tell the approver -> Submitted
  on submit [not complete] -> Draft
  on discard -> final
Submitted  entry: note the day
  on withdraw -> Draft
  on decide -> Decision
  on after 5 days / remind the approver -> Submitted
Decision  (choice)
  [amount <= 500] -> Approved
  [else] -> Second look
Second look  do: wait for the head
  on approve -> Approved
  on refuse / say why -> Draft
Approved
  on done -> final
(final)`,
    'state machine lifecycle workflow statechart',
  ),
  ofStates(
    'device-states',
    'A device and its two lives',
    'What a device does and how it is powered, side by side, and what ends both',
    `(initial)
  -> On
On
  on switch off -> Off
  on fault / raise the alarm -> Faulty
  Work  (region)
    (initial)
      -> Idle
    Idle
      on job -> Busy
    Busy  do: run the job
      on job done -> Idle
      on cancel -> Idle
  Power  (region)
    (initial)
      -> Mains
    Mains
      on power lost -> Battery
    Battery
      on power back -> Mains
Off
  on switch on -> On
  on scrap -> final
Faulty
  on repaired -> On
  on given up -> final
(final)`,
    'parallel regions machine power',
  ),
  ofMessages(
    'signing-in',
    'Signing in',
    'Who asks whom when somebody signs in, with a second proof and what happens on a wrong password',
    `Visitor  (actor)
Visitor asks Web page: sign in(name, password)
Web page asks Accounts: check(name, password)
either known
  Accounts makes Code
  Accounts tells Mail: send(code)
  Accounts answers Web page: ask for the code
  while code wrong
    Visitor asks Web page: confirm(code)
    Web page asks Accounts: compare(code)
    Accounts answers Web page
  Accounts ends Code
  Web page answers Visitor: welcome
or else
  Accounts answers Web page: refused
  Web page answers Visitor: try again`,
    'sequence messages login password authentication',
  ),
  ofPackages(
    'three-layers',
    'Layers that depend downwards',
    'Packages of a program in layers, and a circle that somebody should break',
    `pages  (package)
  Basket page
    uses Basket
  Order page
    uses Order
shop  (package)
  Basket
    + lines : Line [*]
    uses Article store
  Order
    + total() : Real
    uses Order store
    uses Mail
  Line
    + count : Integer = 1
storage  (package)
  Article store
  Order store
messages  (package)
  Mail
    uses Order`,
    'packages layers architecture dependencies',
  ),
  ofCases(
    'library-desk',
    'A lending library',
    'Who gets what done at a library, what is done every time, and what only sometimes',
    `Reader  (actor)
Child  (actor)
  is a Reader
Librarian  (actor)
Postal service  (actor)
Library  (subject)
  Borrow a book
    includes Find the reader
  Give back a book
    includes Find the reader
  Reserve a book
  Find the reader
  Pay a fine
    extends Give back a book  if: it is late
  Buy books
  Send a reminder
Reader: Borrow a book
Reader: Give back a book
Reader: Reserve a book
Librarian: Buy books
Librarian: Send a reminder
Postal service: Send a reminder`,
    'use cases actors requirements',
  ),
  ofComponents(
    'web-application',
    'A web application',
    'Its parts, what each offers and needs, and the machines that they run on',
    `Pages  (component)
  requires Orders
  requires Accounts
Order service  (component)
  provides Orders
  requires Storage
Account service  (component)
  provides Accounts
  requires Storage
Database  (component)
  provides Storage
Web server  (node)
  deploys Pages
Application server  (node)
  deploys Order service
  deploys Account service
Database server  (node)
  deploys Database`,
    'components deployment server nodes architecture',
  ),
  starter(
    'people-and-roles',
    'People, roles and teams',
    'Classes of who works where, as what',
    `staff  (package)
  Person
    + name : String
    + email : String [0..1]
    has 0..* Assignment as assignments  each 1 as person
  Assignment
    + from : Date
    + to : Date [0..1]
    has 1 Role as role
    has 1 Team as team
  Role
    + title : String
  Team
    + name : String
    owns 0..* Team as parts  each 0..1 as whole
  Date  (primitive)`,
    'class diagram domain model entity employee data',
  ),
  ofStates(
    'order-states',
    'An order through its states',
    'From placed to delivered, with what cancels it',
    `(initial)
  -> Placed
Placed
  on pay -> Paid
  on after 14 days / remind -> Placed
  on cancel -> Cancelled
Paid
  on pack -> Packed
  on cancel / pay back -> Cancelled
Packed
  on send -> Under way
Under way
  on delivered -> final
Cancelled
  on filed -> final
(final)`,
    'state machine lifecycle order delivery status',
  ),
]
