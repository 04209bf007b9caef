import pictures from './pictures.json' with { type: 'json' }
import { asDay, asId, Model, type Entity, type Fields, type Relation } from '../core/model'
import { momentText, planOn } from '../core/notations/schedule/plan'

/**
 * The dry dock of MS Eider and the replacement of the ticketing system. One line a task: indent says what it belongs to; key, name, duration
 * (`-` a milestone, nothing a group), what it comes after, who works on it (share after `*`), begun / done on, or in percent; then other
 * fields.
 */
const DOCK = `
dock | Dry dock, MS Eider | | | | |
  plates | Order steel plates | 9d | | Corin Ashby | 2026-10-05 / 2026-10-15 |
  slot | Dock slot confirmed | - | plates | | / 2026-10-16 |
  survey | Survey the hull | 6d | slot | Sanne Ruiz | 2026-10-19 / 2026-10-27 | least 4d, most 10d
  scope | Agree on the scope of work | 4d | survey | Sanne Ruiz, Ines Vadgaard*0.5 | 2026-10-28 / 2026-11-02 |
  spares | Order engine spares | 15d | scope SS+1d | Corin Ashby*0.5 | 2026-10-29 / 80 % | least 12d, most 30d
  crewing | Roster crew ashore | 5d | scope | Kofi Ahlen | 2026-11-09 / 2026-11-13 |
  blocks | Set the keel blocks | 2d | slot | Omar Lisle | 2026-11-12 / 2026-11-13 |
  relief | Charter a relief vessel | 12d | scope | Ines Vadgaard*0.5 | 2026-11-03 / 50 % | least 8d, most 25d
  tow | Bring MS Eider to the dock | 1d | spares, relief, crewing | Aksel Rowe | | start no earlier 2026-11-30
  docked | In dock | - | tow, blocks | | |
  wash | Wash and blast the hull | 4d | docked | Omar Lisle | | least 3d, most 6d
  bow | Replate the bow | 14d | wash, plates | Dag Yrsa | | least 10d, most 24d
  shaft | Draw the propeller shafts | 6d | docked | Sanne Ruiz | | least 5d, most 9d
  tanks | Clean the fuel tanks | 3d | docked SS+1d | Aksel Rowe*0.5 | | least 2d, most 5d
  seals | Fit new shaft seals | 5d | shaft, spares | Sanne Ruiz | | least 4d, most 8d
  engine | Overhaul the main engine | 16d | docked SS+2d, spares, tanks | Stina Aune | | least 12d, most 26d
  ramp | Renew the bow ramp hinges | 7d | bow SS+5d | Omar Lisle | | least 5d, most 12d
  valves | Class survey of sea valves | 3d | wash | Runa Etxe*0.5 | |
  davits | Renew the life-raft davits | 6d | docked | Runa Etxe*0.5 | | least 4d, most 9d
  paint | Prime and paint | 8d | bow, ramp | Pia Corran | | least 6d, most 14d
  cabin | Refit the passenger saloon | 18d | docked | Noemi Stark*0.25 | | least 14d, most 25d
  galley | Refit the galley | 7d | cabin SS+3d | Gro Hansteen*0.25 | | least 5d, most 10d
  signage | Put up new signs | 3d | cabin FF+1d, galley | Gro Hansteen*0.5 | |
  classed | Class certificate | - | bow, valves, seals | | | deadline 2027-02-05
  refloat | Refloat | 1d | paint, seals, classed | Aksel Rowe | |
  trials | Sea trials | 3d | refloat, engine, davits | Aksel Rowe, Sanne Ruiz | | least 2d, most 6d
  back | Back in service | - | trials, cabin, signage | | | deadline 2027-02-26
ticketing | New ticketing | | | | |
  choose | Choose a supplier | | | | |
    needs | Write down what is needed | 8d | | Bo Fenner | 2026-10-05 / 2026-10-14 |
    tender | Invite offers | 10d | needs | Corin Ashby*0.5 | 2026-10-19 / 2026-10-30 |
    offers | Compare the offers | 5d | tender | Bo Fenner, Yara Solberg*0.25 | 2026-11-02 / 2026-11-06 |
    contract | Contract signed | - | offers | | / 2026-11-09 |
  build | Build | | | | |
    fares-model | Model the fares | 8d | contract | Thea Bexley | 2026-11-10 / 75 % | least 6d, most 14d
    screens | Design the screens | 12d | contract | Noemi Stark*0.5 | 2026-11-10 / 50 % | least 8d, most 18d
    service | Set up the service | 10d | contract | Lio Carrick | 2026-11-10 / 70 % | least 8d, most 16d
    receipts | Draw tickets and receipts | 5d | screens SS+3d | Noemi Stark*0.25 | 2026-11-16 / 60 % |
    links | Connect payments | 18d | service, fares-model SS+4d | Lio Carrick | | least 12d, most 30d
    shop | Build the web shop | 36d | screens SS+6d, service | Lio Carrick*0.5, Noemi Stark*0.25 | | least 28d, most 50d
    desk-app | Build the desk screens | 24d | screens, service | Noemi Stark*0.25 | | least 18d, most 36d
    reports | Build the takings report | 6d | fares-model | Thea Bexley*0.5 | | least 4d, most 9d
    gates | Fit gate readers | 8d | service | Lars Oyen | | least 6d, most 12d
    network | Widen the quay network | 6d | contract | Ulla Kestrel | | least 4d, most 10d
    gates-live | Gate readers tested | - | gates, network, receipts | | |
  move | Move over | | | | |
    rehearse | Rehearse the move | 5d | links, shop FF | Hale Winter | | least 4d, most 8d
    load-test | Try it with a summer’s load | 4d | links, shop | Hale Winter*0.5 | | least 3d, most 7d
    freeze | Freeze the old fares | 2d | rehearse | Thea Bexley | |
    copy | Copy old tickets to the archive | 4d | freeze | Ulla Kestrel*0.25 | |
    data-move | Move ticket data | 6d | freeze, rehearse | Lio Carrick | | least 4d, most 10d
    parallel | Sell on both systems | 10d | data-move, desk-app, reports | Ida Nwosu*0.5 | |
    old-off | Keep the old system readable | 5d | parallel SF, copy | Ulla Kestrel*0.5 | |
    accept | Accepted by the desks | - | parallel | | | deadline 2027-03-12
  people | Get everybody ready | | | | |
    guide | Write the desk guide | 6d | desk-app SS+5d | Noemi Stark*0.25 | |
    helpline | Set up the help line | 5d | guide | Asa Kjerulf*0.5 | | least 3d, most 8d
    trainers | Train the trainers | 3d | guide | Rolf Eidem | |
    train-desks | Train the desks | 8d | trainers, rehearse | Rolf Eidem, Ida Nwosu*0.25 | | least 6d, most 12d
    train-yard | Train the yard | 3d | trainers, gates-live | Vida Strand, Bruno Teel*0.5 | |
    letters | Write to season-ticket holders | 4d | contract | Ida Nwosu*0.25 | | start no earlier 2027-02-01
    notice | Announce the change | 2d | letters | Yara Solberg*0.25 | |
  golive | Go live | | | | |
    ready | Ready to go | - | accept, train-desks, train-yard, gates-live, notice, load-test, helpline | | |
    cutover | Switch over at night | 1d | ready | Bo Fenner, Ulla Kestrel | |
    live | New ticketing in use | - | cutover | | | deadline 2027-03-31
    watch | Watch and mend | 14d | cutover | Bo Fenner*0.5, Teo Marsh | | least 10d, most 25d
    close | Close the old contract | 3d | watch | Corin Ashby*0.5 | |
`

/** How long those that slipped were to take when the baseline was taken, by key. */
const AGREED: Readonly<Record<string, string>> = { survey: '5d', relief: '8d', screens: '9d', service: '8d' }
/** What the baseline did not know. */
const PROGRESS = new Set(['actualStart', 'actualFinish', 'percent'])

/** Tasks and what of the company they change. */
const AFFECTS: readonly (readonly [task: string, fact: string])[] = [
  ['data-move', 'sys-booking'],
  ['old-off', 'sys-booking'],
  ['freeze', 'process-fp'],
  ['notice', 'sys-notices'],
  ['gates', 'yard'],
]

/** A hundred and forty years of ferries: date, weight, what happened, band. */
const HISTORY: readonly (readonly [when: string, weight: 'main' | 'minor', name: string, band: string])[] = [
  ['1887', 'main', 'Two pilots put a steam launch on the sound', 'Company'],
  ['1891-06', 'minor', 'First summer timetable', 'Company'],
  ['1902-04-12', 'minor', 'Paddle steamer Wader carries carriages', 'Fleet'],
  ['1914', 'minor', 'Steamers requisitioned; rowing ferry kept', 'Fleet'],
  ['1921-05-02', 'main', 'Marram Quay opens in stone', 'Ports'],
  ['1936', 'minor', 'First motor ferry, MV Dunlin', 'Fleet'],
  ['1947-09', 'minor', 'Company and crews agree on the eight-hour watch', 'Company'],
  ['1958-07-19', 'main', 'Drive-on ferries: cars no longer lifted by crane', 'Fleet'],
  ['1969', 'minor', 'Skerry Point gets its linkspan', 'Ports'],
  ['1979-12-03', 'minor', 'Radar watch on every crossing', 'Fleet'],
  ['1988', 'main', 'Skerry Harbour Company founded with the town', 'Ports'],
  ['1996-03', 'minor', 'Seats booked by telephone', 'Tickets'],
  ['2003-10-20', 'minor', 'First tickets sold on the web', 'Tickets'],
  ['2012-06-01', 'main', 'MS Eider enters service', 'Fleet'],
  ['2019-04-01', 'minor', 'Booking service replaces paper tickets', 'Tickets'],
  ['2021', 'minor', 'Skerry terminal rebuilt after the storm', 'Ports'],
  ['2026-11-30', 'minor', 'MS Eider goes into dry dock', 'Fleet'],
  ['2027-03', 'main', 'New ticketing in use', 'Tickets'],
  ['2028', 'main', 'First electric ferry', 'Fleet'],
]

const ERAS: readonly (readonly [when: string, until: string, weight: 'main' | 'minor', name: string, band: string])[] =
  [
    ['1887', '1935', 'main', 'Steam', 'Fleet'],
    ['1936', '1957', 'main', 'Motor ferries', 'Fleet'],
    ['1958', '2027', 'main', 'Drive-on ferries', 'Fleet'],
    ['1996', '2019', 'minor', 'Telephone and web sales', 'Tickets'],
  ]

/** Drawn by `scripts/demoPictures.ts`, by the event that they show. */
const PICTURES = new Map(Object.entries(pictures))

/** The pictures that the facts name, as addresses that hold their bytes. */
export const marramPictures = (): ReadonlyMap<string, string> =>
  new Map([...PICTURES.values()].map(({ id, address }) => [id, address]))

const PLAN = asId('plan-dt')
const HISTORY_PLAN = asId('plan-history')
const FIELDS = ['least', 'most', 'deadline', 'start no earlier', 'category'] as const

/** The plan, its calendar and baseline, and the company’s timeline. `person` finds a person by name. */
export function planFacts(person: (name: string) => string): { entities: Entity[]; relations: Relation[] } {
  const entities: Entity[] = [
    {
      id: asId('calendar'),
      kind: 'calendar',
      name: 'Working days at Marram Quay',
      fields: {
        weekdays: ['Mon', 'Tue', 'Wed', 'Thu', 'Fri'],
        hours: '08:00-12:00, 12:30-16:00',
        exceptions: [
          '2026-12-24..2026-12-28 off Winter closure',
          '2027-01-01 off New Year',
          '2027-03-26..2027-03-29 off Easter',
        ],
      },
    },
    {
      id: PLAN,
      kind: 'plan',
      name: 'Dry dock and new ticketing, 2026–27',
      fields: { start: '2026-10-05', status: '2026-11-24', calendar: 'calendar' },
    },
    { id: HISTORY_PLAN, kind: 'plan', name: 'Marram Sound, 1887 to 2028', fields: {} },
    {
      id: asId('baseline-1'),
      kind: 'baseline',
      name: 'As agreed in October',
      fields: { plan: PLAN, taken: '2026-10-02' },
    },
  ]
  const relations: Relation[] = []
  let count = 0
  const relate = (kind: string, source: string, target: string, fields: Fields = {}) => {
    relations.push({ id: asId(`${kind}-dt${++count}`), kind, source: asId(source), target: asId(target), fields })
  }
  const path: string[] = []
  const orders = new Map<string, number>()
  for (const line of DOCK.split('\n').filter((one) => one.trim())) {
    const depth = (line.length - line.trimStart().length) / 2
    const [key = '', name = '', duration = '', after = '', who = '', progress = '', more = ''] = line
      .split('|')
      .map((cell) => cell.trim())
    path.length = depth
    const group = path[depth - 1]
    path.push(key)
    const order = (orders.get(group ?? '') ?? 0) + 1
    orders.set(group ?? '', order)
    const kind = duration === '' ? 'group' : duration === '-' ? 'milestone' : 'task'
    const [begun = '', done = ''] = progress.split('/').map((part) => part.trim())
    const fields: Fields = {
      ...(kind === 'task' ? { duration } : {}),
      ...(begun ? { actualStart: begun } : {}),
      ...(/^\d{4}/.test(done) ? { actualFinish: done } : {}),
      ...(done.endsWith('%') ? { percent: Number.parseInt(done, 10) } : {}),
      ...extras(more),
      ...(group ? { group: `t-${group}` } : {}),
      plan: PLAN,
      order,
    }
    entities.push({ id: asId(`t-${key}`), kind, name, fields })
    for (const text of after
      .split(',')
      .map((one) => one.trim())
      .filter(Boolean)) {
      const [, source = '', type, lag] = /^(\S+?)(?:\s+(FS|SS|FF|SF))?(?:\+(\S+))?$/.exec(text) ?? []
      relate('precedes', `t-${source}`, `t-${key}`, {
        ...(type && type !== 'FS' ? { type } : {}),
        ...(lag ? { lag } : {}),
      })
    }
    for (const text of who
      .split(',')
      .map((one) => one.trim())
      .filter(Boolean)) {
      const [named = '', share] = text.split('*')
      relate('assigned', person(named), `t-${key}`, share ? { units: Number(share) } : {})
    }
  }
  for (const { id, dates } of agreed(entities, relations)) relate('baselined', 'baseline-1', id, dates)
  for (const [task, fact] of AFFECTS) relate('affects', `t-${task}`, fact)
  HISTORY.forEach(([when, weight, name, band], i) =>
    entities.push({
      id: asId(`h-${i + 1}`),
      kind: 'event',
      name,
      fields: { when, weight, band, ...pictureOfEvent(name), plan: HISTORY_PLAN },
    }),
  )
  ERAS.forEach(([when, until, weight, name, band], i) =>
    entities.push({
      id: asId(`era-${i + 1}`),
      kind: 'era',
      name,
      fields: { when, until, weight, band, plan: HISTORY_PLAN },
    }),
  )
  return { entities, relations }
}

/** What the pictures show, for whoever does not see them. */
const ALTS = new Map([
  ['Two pilots put a steam launch on the sound', 'A small steam launch with a tall funnel on calm water'],
  ['Paddle steamer Wader carries carriages', 'A paddle steamer from the side, with carriages on its deck'],
  ['Marram Quay opens in stone', 'A quay of cut stone with steps down to the water'],
  ['Drive-on ferries: cars no longer lifted by crane', 'A ferry with its bow ramp down on a linkspan'],
  ['MS Eider enters service', 'A white double-ended ferry under way'],
  ['First electric ferry', 'A ferry at its quay with a charging arm plugged in'],
])

const pictureOfEvent = (name: string): Fields => {
  const picture = PICTURES.get(name)
  return picture ? { photo: picture.id, alt: ALTS.get(name) ?? name } : {}
}

/** The dates as they came out before anything had been done, by the durations of then. */
function agreed(entities: readonly Entity[], relations: readonly Relation[]): { id: string; dates: Fields }[] {
  const before = entities.map((entity): Entity => {
    const known = Object.entries(entity.fields).filter(([field]) => !PROGRESS.has(field) && field !== 'status')
    const duration = AGREED[entity.id.slice(2)]
    return { ...entity, fields: { ...Object.fromEntries(known), ...(duration ? { duration } : {}) } }
  })
  const plan = planOn(Model.of({ name: '', entities: before, relations }), PLAN, asDay('2026-10-02'))
  return plan.list
    .filter(({ kind }) => kind !== 'group')
    .map(({ id, start, finish, time }) => ({
      id,
      dates: { start: momentText(start, time, 'start'), finish: momentText(finish, time, 'finish') },
    }))
}

function extras(text: string): Fields {
  const fields: Record<string, string> = {}
  for (const part of text
    .split(',')
    .map((one) => one.trim())
    .filter(Boolean)) {
    const field = FIELDS.find((one) => part.startsWith(one))
    const value = field === undefined ? '' : part.slice(field.length).trim()
    if (field === 'start no earlier') Object.assign(fields, { constraint: field, on: value })
    else if (field !== undefined) fields[field] = value
  }
  return fields
}
