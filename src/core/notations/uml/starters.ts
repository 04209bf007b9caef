import { starterFrom, type Starter } from '../../notation'
import { handling } from './handling'
import { outline } from './outline'

const starter = starterFrom(outline, handling.view)

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
  ),
]
