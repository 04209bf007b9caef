/**
 * The staff of Marram Sound Ferries, a made-up regional ferry line, and of the harbour company that it shares a quay with.
 * One line a position: indent says who reports to whom; then title, holder, unit, grade, fte, location, cost, first and last day.
 * A `+` before the title marks an assistant; a name in brackets is a contractor's.
 */
export const POSITIONS = `
md | Managing director | Hedda Lauring | exec | G12 | 1 | Marram Quay | 142000 | 2019-04-01 |
  md-a | + Executive assistant | Mika Tann | exec | G4 | 1 | Marram Quay | 38500 | 2021-02-01 |
  fleet | Fleet operations lead | Ines Vadgaard | fleet | G9 | 1 | Marram Quay | 84000 | 2021-03-01 |
    duty-1 | Duty controller | Tove Marrin | fleet | G6 | 1 | Marram Quay | 52000 | 2022-06-15 |
      watch-1 | Watch officer, day | Brede Solheimer | fleet | G5 | 1 | Marram Quay | 46000 | 2022-06-15 |
      watch-2 | Watch officer, night | Saga Lindqvar | fleet | G5 | 1 | Marram Quay | 47500 | 2023-01-10 |
      watch-3 | Watch officer, relief | Enok Thrane | fleet | G5 | 0.5 | Marram Quay | 23500 | 2025-04-01 |
    crew | Crewing planner | Kofi Ahlen | fleet | G6 | 1 | Marram Quay | 50500 | 2020-09-01 |
      roster-1 | Roster clerk | Mette Orvik | fleet | G3 | 1 | Marram Quay | 34000 | 2021-05-01 |
      roster-2 | Roster clerk | Jonah Pell | fleet | G3 | 0.8 | Marram Quay | 27500 | 2024-08-19 |
    master-1 | Master, MS Eider | Aksel Rowe | fleet | G8 | 1 | MS Eider | 71000 | 2020-01-01 |
    master-2 | Master, MS Curlew | Liv Harstad | fleet | G8 | 1 | MS Curlew | 71500 | 2020-01-01 |
    relief | Relief master | | fleet | G8 | 1 | MS Eider | 68000 | 2021-01-01 |
    engineer | Chief engineer | Sanne Ruiz | fleet | G8 | 1 | MS Eider | 73500 | 2020-01-01 |
      eng-2 | Second engineer | Dag Yrsa | fleet | G6 | 1 | MS Eider | 54000 | 2022-03-01 |
      eng-3 | Motor fitter | Pia Corran | fleet | G4 | 1 | Marram Quay | 41000 | 2023-09-04 |
  ports | Port services lead | Osei Brandt | ports | G9 | 1 | Marram Quay | 61200 | 2022-10-01 | 2027-01-31
    berth-n | Berth supervisor, north | Lune Aske | ports | G6 | 1 | Skerry Point | 49500 | 2023-02-01 |
      hand-1 | Linesman | Tarn Velle | ports | G2 | 1 | Skerry Point | 30500 | 2023-02-01 |
      hand-2 | Linesman | Ruben Oake | ports | G2 | 1 | Skerry Point | 30500 | 2024-05-13 |
    berth-s | Berth supervisor, south | Pavel Dorn | ports | G6 | 0.5 | Marram Quay | 25000 | 2025-05-01 |
    pax | Passenger desk lead | Ida Nwosu | ports | G5 | 1 | Marram Quay | 44500 | 2021-11-01 |
      desk-1 | Desk agent | Celine Abara | ports | G3 | 1 | Marram Quay | 33000 | 2022-01-17 |
      desk-2 | Desk agent | Milo Fenn | ports | G3 | 1 | Marram Quay | 33000 | 2025-06-02 |
      desk-3 | Desk agent | Asa Kjerulf | ports | G3 | 0.6 | Skerry Point | 20000 | 2024-03-04 |
    term | Terminal manager, Skerry Point | | ports | G7 | 1 | Skerry Point | 58000 | 2021-06-01 |
      term-1 | Terminal assistant | Nils Ravna | ports | G3 | 1 | Skerry Point | 32500 | 2022-04-01 |
      term-2 | Terminal assistant | Fay Ingle | ports | G3 | 1 | Skerry Point | 32500 | 2023-04-01 |
    yard | Vehicle yard lead | Bruno Teel | ports | G5 | 1 | Marram Quay | 43500 | 2020-05-01 |
      yard-1 | Yard marshal | Vera Holm | ports | G2 | 1 | Marram Quay | 30000 | 2021-05-01 |
      yard-2 | Yard marshal | Odd Nygard | ports | G2 | 1 | Marram Quay | 30000 | 2022-05-01 |
    freight | Freight coordinator | Salome Pryce | ports | G5 | 1 | Marram Quay | 45500 | 2024-01-08 |
    clean | Facilities coordinator | Gro Hansteen | ports | G4 | 0.8 | Marram Quay | 31500 | 2023-03-01 |
    port-it | Quay systems technician | (Lars Oyen) | ports | G5 | 0.4 | Marram Quay | 26000 | 2025-09-01 | 2027-06-30
    duty-p | Port manager on duty | Kirsi Vane | ports | G6 | 1 | Marram Quay | 51500 | 2022-10-01 |
  digital | Digital and ticketing lead | Yara Solberg | digital | G9 | 1 | Marram Quay | 86000 | 2023-08-01 |
    po | Product owner, booking | Bo Fenner | digital | G7 | 1 | Marram Quay | 63500 | 2024-02-01 |
      tester | Test analyst | Hale Winter | digital | G5 | 1 | Marram Quay | 48500 | 2024-09-02 |
      ux | Service designer | Noemi Stark | digital | G6 | 0.8 | Marram Quay | 43000 | 2025-02-03 |
    platform | Platform engineer | (Lio Carrick) | digital | G7 | 1 | Marram Quay | 98000 | 2025-10-01 | 2027-01-22
    desk | Service desk lead | Asta Quill | digital | G6 | 1 | Marram Quay | 50000 | 2022-11-14 |
      sd-1 | Service desk analyst | Teo Marsh | digital | G4 | 1 | Marram Quay | 39500 | 2023-06-12 |
      sd-2 | Service desk analyst | Wren Adair | digital | G4 | 1 | Marram Quay | 39500 | 2026-02-02 |
    net | Network engineer | Ulla Kestrel | digital | G6 | 1 | Marram Quay | 56500 | 2021-04-06 |
    data | Data analyst | Ferdy Lomond | digital | G5 | 1 | Marram Quay | 47000 | 2025-11-03 |
  finance | Finance lead | Emil Castan | finance | G9 | 1 | Marram Quay | 83500 | 2018-06-01 |
    revenue | Revenue accountant | Noor Hale | finance | G6 | 1 | Marram Quay | 52500 | 2020-08-01 |
      refunds | Refunds clerk | Jens Okafor | finance | G3 | 1 | Marram Quay | 34500 | 2024-10-07 | 2026-12-31
      fares | Fares analyst | Thea Bexley | finance | G5 | 1 | Marram Quay | 46500 | 2023-05-15 |
    ledger | Ledger accountant | Marit Sund | finance | G5 | 1 | Marram Quay | 47500 | 2019-10-01 |
    buyer | Buyer | Corin Ashby | finance | G5 | 1 | Marram Quay | 46000 | 2022-02-14 |
  people | People lead | Selma Varga | people | G8 | 1 | Marram Quay | 72000 | 2021-09-01 |
    recruit | Recruiter | Ondine Leigh | people | G5 | 0.8 | Marram Quay | 37000 | 2022-09-05 |
    train | Training coordinator | Rolf Eidem | people | G5 | 1 | Marram Quay | 45000 | 2020-02-03 |
    payroll | Payroll clerk | Bea Tolland | people | G4 | 1 | Marram Quay | 39000 | 2019-03-01 |
  safety | Safety officer | Runa Etxe | safety | G8 | 1 | Marram Quay | 70500 | 2020-11-01 |
    drills | Drills and audits | Vida Strand | safety | G6 | 1 | Marram Quay | 51000 | 2022-08-15 |
    security | Port security adviser | Ewan Grieve | safety | G6 | 0.6 | Skerry Point | 31000 | 2024-04-15 |
    env | Environment adviser | Tuva Rask | safety | G5 | 0.5 | Marram Quay | 24500 | 2026-03-02 |
harbour | Harbour master, Skerry Harbour Company | Magnus Trevane | harbour | G10 | 1 | Skerry Point | 92000 | 2018-01-01 |
  harbour-a | + Harbour office assistant | Lotte Broch | harbour | G4 | 0.8 | Skerry Point | 30000 | 2021-01-11 |
  pilot | Pilotage coordinator | Ivar Skaug | harbour | G7 | 1 | Skerry Point | 64000 | 2018-05-01 |
    pilot-1 | Harbour pilot | Greta Sorn | harbour | G7 | 1 | Skerry Point | 69000 | 2019-05-01 |
    pilot-2 | Harbour pilot | Eskil Wade | harbour | G7 | 1 | Skerry Point | 69000 | 2021-09-01 |
  quay | Quay maintenance lead | Hanne Rudd | harbour | G6 | 1 | Skerry Point | 52000 | 2020-03-01 |
    quay-1 | Quay maintenance fitter | Omar Lisle | harbour | G4 | 1 | Skerry Point | 40500 | 2022-07-01 |
    quay-2 | Quay maintenance fitter | Stina Aune | harbour | G4 | 1 | Skerry Point | 40500 | 2024-11-01 |
  vts | Traffic watch lead | Peder Falk | harbour | G6 | 1 | Skerry Point | 53500 | 2019-09-01 |
`

/** The unit that all others but the harbour company are part of. */
export const COMPANY = 'company'

export const UNITS: Readonly<Record<string, string>> = {
  company: 'Marram Sound Ferries',
  exec: 'Direction',
  fleet: 'Fleet',
  ports: 'Ports',
  digital: 'Digital and ticketing',
  finance: 'Finance',
  people: 'People',
  safety: 'Safety',
  harbour: 'Harbour company',
}

/** Who sat where before, and who comes: position, person, first day, last day. */
export const TENURES: readonly (readonly [position: string, person: string, from: string, to: string | undefined])[] = [
  ['relief', 'Gunnar Stroud', '2021-01-01', '2026-09-01'],
  ['term', 'Alva Kinnear', '2021-06-01', '2026-08-31'],
  ['watch-3', 'Enok Thrane', '2025-04-01', undefined],
  ['desk-2', 'Hilde Parr', '2022-03-01', '2025-05-16'],
  ['desk-2', 'Milo Fenn', '2025-06-02', undefined],
  ['sd-2', 'Joss Merrin', '2023-08-07', '2025-12-19'],
  ['sd-2', 'Wren Adair', '2026-02-02', undefined],
  ['data', 'Ferdy Lomond', '2025-11-03', undefined],
  ['ux', 'Noemi Stark', '2025-02-03', undefined],
  ['fares', 'Kit Amsel', '2021-08-02', '2025-03-31'],
  ['fares', 'Thea Bexley', '2025-04-14', undefined],
  ['env', 'Tuva Rask', '2026-03-02', undefined],
  ['refunds', 'Jens Okafor', '2024-10-07', '2026-12-31'],
  ['buyer', 'Corin Ashby', '2022-02-14', '2027-03-31'],
  ['roster-2', 'Jonah Pell', '2024-08-19', '2026-10-30'],
  ['roster-2', 'Signe Dahlby', '2026-11-16', undefined],
  ['platform', 'Lio Carrick', '2025-10-01', '2027-01-22'],
]

/** Dotted lines: report, other manager. */
export const DOTTED: readonly (readonly [string, string])[] = [
  ['port-it', 'net'],
  ['fares', 'po'],
  ['security', 'harbour'],
]

/** Posts that begin later: terminals are led anew from February 2027. */
export const REORGANISATION = {
  day: '2027-02-01',
  newHead: {
    key: 'terminals',
    title: 'Head of terminals',
    holder: 'Kirsi Vane',
    unit: 'ports',
    grade: 'G9',
    under: 'md',
  },
  /** Reports of the port services lead that move over; the berth supervisor in the north was forgotten. */
  moves: ['berth-s', 'pax', 'term', 'yard', 'freight', 'clean', 'port-it', 'duty-p'],
  from: 'ports',
} as const

/** Since the autumn the service designer has two managers: one of the faults that the findings should find. */
export const SECOND_MANAGER = { report: 'ux', manager: 'revenue', from: '2026-10-01' } as const

/** Roles, their purpose, and the positions that fill them. */
export const ROLES: readonly (readonly [key: string, name: string, purpose: string, positions: readonly string[]])[] = [
  ['duty-controller', 'Duty controller', 'Decides whether a sailing goes', ['duty-1']],
  ['port-manager', 'Port manager on duty', 'Answers for a terminal during a watch', ['ports', 'duty-p', 'terminals']],
  ['passenger-desk', 'Passenger desk', 'Speaks to passengers', ['pax', 'desk-1', 'desk-2', 'desk-3']],
  ['refunds-clerk', 'Refunds clerk', 'Pays back fares', ['refunds']],
  ['product-owner', 'Booking product owner', 'Decides what the booking service does next', ['po']],
  ['security-officer', 'Port facility security officer', 'Keeps the port facility’s security plan', ['security']],
]

/** Who can do what that is asked for on board, by name. */
export const SKILLS: Readonly<Record<string, readonly string[]>> = {
  'First aid': [
    'Mette Orvik',
    'Jonah Pell',
    'Signe Dahlby',
    'Liv Harstad',
    'Dag Yrsa',
    'Lune Aske',
    'Ida Nwosu',
    'Fay Ingle',
    'Vera Holm',
    'Yara Solberg',
  ],
  Radio: ['Jonah Pell', 'Aksel Rowe', 'Liv Harstad', 'Tarn Velle', 'Ruben Oake', 'Vera Holm', 'Kirsi Vane'],
  'Crowd handling': [
    'Signe Dahlby',
    'Liv Harstad',
    'Osei Brandt',
    'Ida Nwosu',
    'Hilde Parr',
    'Kirsi Vane',
    'Vera Holm',
    'Bo Fenner',
  ],
}
