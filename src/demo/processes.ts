import { asDay, asId, type Entity, type Fields, type Relation } from '../core/model'

/**
 * How Marram Sound Ferries handles a cancelled sailing and publishes a fare. One line an element: key, kind and type, name, lane, phase; then
 * minutes (least / usual / most, or one number), wait, cost, system, worth. Flows: from > to, label, share.
 */
interface Story {
  readonly key: string
  readonly name: string
  readonly fields: Fields
  readonly pools: readonly (readonly [key: string, name: string])[]
  /** Key, name, pool, what it stands for. */
  readonly lanes: readonly (readonly [key: string, name: string, pool: string, of: string])[]
  readonly phases: readonly (readonly [key: string, name: string])[]
  readonly elements: string
  readonly flows: string
  readonly messages: readonly (readonly [from: string, to: string, label: string])[]
  readonly data: readonly (readonly [step: string, sort: 'reads' | 'writes', data: string])[]
  readonly apart: readonly (readonly [string, string])[]
  readonly raci: readonly (readonly [role: string, step: string, part: string])[]
}

const SYSTEMS: readonly (readonly [key: string, name: string, owner: string, from: string, to: string | undefined])[] =
  [
    ['booking', 'Booking service', 'po', '2019-04-01', '2027-09-30'],
    ['notices', 'Notice sender', 'po', '2022-05-01', undefined],
    ['ledger', 'Ledger', 'ledger', '2018-01-01', undefined],
    ['berths', 'Berth planner', 'ports', '2021-03-01', undefined],
  ]

const cancelled: Story = {
  key: 'sc',
  name: 'Sailing cancelled',
  fields: { version: '4', owner: 'duty-1', trigger: 'Weather or a defect', arrivals: 0.25 },
  pools: [
    ['line', 'Marram Sound Ferries'],
    ['public', 'Passengers'],
  ],
  lanes: [
    ['duty', 'Duty controller', 'line', 'role-duty-controller'],
    ['desk', 'Passenger desk', 'line', 'role-passenger-desk'],
    ['ticketing', 'Ticketing system', 'line', 'sys-booking'],
    ['refunds', 'Refunds clerk', 'line', 'role-refunds-clerk'],
    ['passengers', 'Passengers', 'public', ''],
  ],
  phases: [
    ['decide', 'Decide'],
    ['care', 'Look after passengers'],
  ],
  elements: `
start | event start message | Sailing in doubt | duty | decide
assess | step user task | Assess the sailing | duty | decide | 4/6/15 | 0 | 5 | berths | needed
ask | step task | Ask both ports for berths | duty | decide | 3/5/10 | 4 | 4 | berths | needed
later | gateway exclusive | Can it sail later? | duty | decide
delay | step task | Set a new departure | duty | decide | 4 | 0 | 3 | berths | adds value
delayed | event end message | Sailing delayed | duty | decide
declare | step task | Declare the cancellation | duty | decide | 4 | 0 | 3 | | adds value
fork | gateway parallel | Unnamed | duty | care
ports | step task | Inform both ports | duty | care | 5 | 0 | 4 | berths | needed
crew | step task | Stand down the crew | duty | care | 8 | 0 | 6 | | needed
again | gateway exclusive | Unnamed | desk | care
draft | step task | Draft the notice | desk | care | 5/6/12 | 0 | 5 | notices | adds value
check | step manual task | Check the notice | desk | care | 3 | 2 | 2 | | needed
right | gateway exclusive | Is it right? | desk | care
send | step service task | Send the notice | ticketing | care | 1 | 0 | 0.4 | notices | adds value
board | step task | Put it on the quay boards | desk | care | 3 | 0 | 2 | | adds value
stop | step service task | Stop sales for the sailing | ticketing | care | 1 | 0 | 0.1 | booking | needed
list | step service task | List booked passengers | ticketing | care | 1 | 0 | 0.1 | booking | needed
seats | gateway exclusive | Seats on next sailing? | ticketing | care
rebook | step service task | Rebook passengers | ticketing | care | 1 | 3 | 0.2 | booking | adds value
ticket | step service task | Send new tickets | ticketing | care | 1 | 0 | 0.2 | booking | adds value
refund | step user task | Refund the fares | refunds | care | 8/12/30 | 90 | 9 | ledger | adds value
post | step user task | Post refunds in the ledger | refunds | care | 5 | 30 | 4 | ledger | needed
settled | gateway parallel | Unnamed | ticketing | care
last | gateway exclusive | Last sailing of the day? | desk | care
hotel | step task | Book hotel rooms | desk | care | 10/15/40 | 5 | 60 | | adds value
coach | step task | Arrange a coach transfer | desk | care | 8/12/25 | 5 | 25 | | adds value
vouchers | step task | Hand out meal vouchers | desk | care | 6 | 0 | 18 | | adds value
housed | gateway exclusive | Unnamed | desk | care
answer | step task | Answer questions at the desk | desk | care | 15/25/60 | 0 | 14 | | adds value
meet | gateway parallel | Unnamed | duty | care
report | step user task | Write the cancellation report | duty | care | 10 | 15 | 8 | | needed
close | step task | Close the case | duty | care | 3 | 0 | 2 | | needed
end | event end | Case closed | duty | care
notice | data document | Notice | desk | care
manifest | data store | Booking list | ticketing | care`,
  flows: `
start > assess
assess > ask
ask > later
later > delay | yes | 0.4
later > declare | no | 0.6
delay > delayed
declare > fork
fork > ports
fork > again
again > draft
fork > stop
fork > last
ports > crew
crew > meet
draft > check
check > right
right > send | yes | 0.85
right > again | no | 0.15
send > board
board > meet
stop > list
list > seats
seats > rebook | yes | 0.7
seats > refund | | 0.3
rebook > ticket
ticket > settled
refund > post
post > settled
settled > meet
last > hotel | yes | 0.2
last > coach | no | 0.8
hotel > housed
coach > vouchers
vouchers > housed
housed > answer
answer > meet
meet > report
report > close
close > end`,
  messages: [
    ['send', 'pool-public', 'notice'],
    ['ticket', 'pool-public', 'new ticket'],
    ['refund', 'pool-public', 'refund'],
  ],
  data: [
    ['draft', 'writes', 'notice'],
    ['list', 'reads', 'manifest'],
  ],
  apart: [['check', 'refund']],
  raci: [
    ['duty-controller', 'declare', 'A'],
    ['duty-controller', 'declare', 'R'],
    ['port-manager', 'declare', 'C'],
    ['passenger-desk', 'declare', 'I'],
    ['refunds-clerk', 'refund', 'R'],
    ['product-owner', 'refund', 'A'],
    ['passenger-desk', 'refund', 'I'],
  ],
}

const fare: Story = {
  key: 'fp',
  name: 'New fare published',
  fields: { version: '2', owner: 'fares', trigger: 'A season or a cost changes', arrivals: 0.02 },
  pools: [],
  lanes: [
    ['fares', 'Fares analyst', '', 'fares'],
    ['finance', 'Finance lead', '', 'finance'],
    ['product', 'Booking product owner', '', 'role-product-owner'],
    ['system', 'Booking service', '', 'sys-booking'],
  ],
  phases: [],
  elements: `
start | event start timer | Fare review due | fares
again | gateway exclusive | Unnamed | fares
draft | step user task | Draft the fare table | fares | | 120/180/360 | 0 | 90 | | adds value
model | step task | Model the revenue | fares | | 90 | 0 | 45 | | needed
approve | gateway exclusive | Does finance agree? | finance
sign | step user task | Sign the fare table | finance | | 15 | 480 | 12 | | needed
fork | gateway parallel | Unnamed | system
enter | step service task | Enter fares in the booking service | system | | 20 | 0 | 6 | booking | adds value
test | step user task | Test sample bookings | product | | 45 | 60 | 25 | booking | needed
write | step task | Write the public notice | product | | 30 | 0 | 15 | | adds value
meet | gateway parallel | Unnamed | system
publish | step service task | Publish fares and notice | system | | 5 | 0 | 1 | booking | adds value
end | event end | Fare in force | system`,
  flows: `
start > again
again > draft
draft > model
model > approve
approve > sign | yes | 0.8
approve > again | no | 0.2
sign > fork
fork > enter
fork > write
enter > test
test > meet
write > meet
meet > publish
publish > end`,
  messages: [],
  data: [],
  apart: [['draft', 'sign']],
  raci: [],
}

const cellsOf = (line: string): string[] => line.split('|').map((cell) => cell.trim())
const linesOf = (text: string): string[] => text.split('\n').filter((line) => line.trim() !== '')

function minutes(text: string): Fields {
  const [a, b, c] = text.split('/').map(Number)
  if (text === '') return {}
  return b !== undefined && c !== undefined ? { least: a ?? 0, duration: b, most: c } : { duration: a ?? 0 }
}

function storyFacts({ key, name, fields, pools, lanes, phases, elements, flows, messages, data, apart, raci }: Story) {
  const process = `process-${key}`
  const id = (local: string) => asId(`${key}-${local}`)
  const entities: Entity[] = [{ id: asId(process), kind: 'process', name, fields }]
  const relations: Relation[] = []
  const relate = (kind: string, source: string, target: string, more: Fields = {}) =>
    relations.push({
      id: id(`r${relations.length + 1}`),
      kind,
      source: asId(source),
      target: asId(target),
      fields: more,
    })
  pools.forEach(([local, title], order) =>
    entities.push({ id: id(`pool-${local}`), kind: 'pool', name: title, fields: { process, order: order + 1 } }),
  )
  lanes.forEach(([local, title, pool, of], order) =>
    entities.push({
      id: id(`lane-${local}`),
      kind: 'lane',
      name: title,
      fields: { process, order: order + 1, ...(of ? { of } : {}), ...(pool ? { pool: id(`pool-${pool}`) } : {}) },
    }),
  )
  phases.forEach(([local, title], order) =>
    entities.push({ id: id(`phase-${local}`), kind: 'phase', name: title, fields: { process, order: order + 1 } }),
  )
  linesOf(elements).forEach((line, order) => {
    const [
      local = '',
      sort = '',
      title = '',
      lane = '',
      phase = '',
      time = '',
      wait = '',
      cost = '',
      tool = '',
      worth = '',
    ] = cellsOf(line)
    const [kind = '', ...type] = sort.split(' ')
    const trigger: Fields = kind === 'event' && type.length > 1 ? { trigger: type.pop() ?? 'none' } : {}
    entities.push({
      id: id(local),
      kind,
      name: title,
      fields: {
        type: type.join(' '),
        ...trigger,
        process,
        order: order + 1,
        ...(phase ? { phase: id(`phase-${phase}`) } : {}),
        ...minutes(time),
        ...(Number(wait) > 0 ? { wait: Number(wait) } : {}),
        ...(cost ? { cost: Number(cost) } : {}),
        ...(tool ? { tool: `sys-${tool}` } : {}),
        ...(worth ? { worth } : {}),
      },
    })
    relate('performed-in', id(local), id(`lane-${lane}`))
  })
  linesOf(flows).forEach((line, order) => {
    const [ends = '', label = '', share = ''] = cellsOf(line)
    const [from = '', to = ''] = ends.split('>').map((end) => end.trim())
    relate('flow', id(from), id(to), {
      order: order + 1,
      ...(label ? { label } : {}),
      ...(share ? { share: Number(share) } : {}),
    })
  })
  for (const [from, to, label] of messages) relate('message', id(from), id(to), { label })
  for (const [step, sort, document] of data) relate(sort, id(step), id(document))
  for (const [a, b] of apart) relate('kept-apart', id(a), id(b))
  for (const [role, step, part] of raci) relate('raci', `role-${role}`, id(step), { part })
  return { entities, relations }
}

/** Systems, processes and their ties; roles and positions are the organisation’s. */
export function processFacts(): { entities: Entity[]; relations: Relation[] } {
  const stories = [cancelled, fare].map(storyFacts)
  const systems = SYSTEMS.map(([key, name, owner, from, to]): Entity => ({
    id: asId(`sys-${key}`),
    kind: 'system',
    name,
    fields: { owner },
    from: asDay(from),
    ...(to ? { to: asDay(to) } : {}),
  }))
  return {
    entities: [...systems, ...stories.flatMap(({ entities }) => entities)],
    relations: stories.flatMap(({ relations }) => relations),
  }
}
