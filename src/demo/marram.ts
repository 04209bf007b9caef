import { addDays, asDay, asId, Model, type Day, type Entity, type Id, type Relation, type View } from '../core/model'
import {
  COMPANY,
  DOTTED,
  POSITIONS,
  REORGANISATION,
  ROLES,
  SECOND_MANAGER,
  SKILLS,
  TENURES,
  UNITS,
} from './organisation'
import { classFacts, classViews } from './classes'
import { componentFacts, componentViews } from './components'
import { databaseFacts } from './database'
import { figureFacts } from './figures'
import { networkFacts, networkViews } from './network'
import { planFacts } from './plans'
import { processFacts } from './processes'
import { sequenceFacts, sequenceViews } from './sequences'
import { stateFacts, stateViews } from './states'
import { caseFacts, caseViews } from './useCases'

interface Row {
  readonly key: string
  readonly above: string | undefined
  readonly assistant: boolean
  readonly contractor: boolean
  readonly title: string
  readonly holder: string
  readonly unit: string
  readonly grade: string
  readonly fte: number
  readonly location: string
  readonly cost: number
  readonly from: Day
  readonly to: Day | undefined
}

/** Marram Sound Ferries: the workspace that ships with the program. Made up from end to end. */
export function marramSoundFerries(): Model {
  const rows = readRows(POSITIONS)
  const people = new Map<string, Entity>()
  const relations: Relation[] = []
  const relate = (kind: string, source: string, target: string, more: Partial<Relation> = {}) =>
    relations.push({
      id: asId(`${kind}-${relations.length + 1}`),
      kind,
      source: asId(source),
      target: asId(target),
      fields: {},
      ...more,
    })
  const person = (name: string, contractor: boolean): Id => {
    const id = asId(`person-${name.toLowerCase().replace(/\W+/g, '-')}`)
    const email = `${name.toLowerCase().replace(/\W+/g, '.')}@marramsound.example`
    people.set(
      name,
      people.get(name) ?? {
        id,
        kind: 'person',
        name,
        fields: { ...(contractor ? { employer: 'Tidewise Contracting' } : {}), email, ...skillsOf(name) },
      },
    )
    return id
  }

  const positions: Entity[] = rows.map((row, index) => positionOf(row, index + 1))
  for (const row of rows) {
    if (row.above) {
      const moves = REORGANISATION.moves.some((key) => key === row.key)
      relate(row.assistant ? 'assists' : 'reports-to', row.key, row.above, moves ? { to: asDay('2027-01-31') } : {})
      if (moves) relate('reports-to', row.key, REORGANISATION.newHead.key, { from: asDay(REORGANISATION.day) })
    }
    const tenures = TENURES.filter(([key]) => key === row.key)
    for (const [, name, from, to] of tenures)
      relate('holds', person(name, row.contractor), row.key, { from: asDay(from), ...(to ? { to: asDay(to) } : {}) })
    if (tenures.length === 0 && row.holder) {
      const end = row.key === 'duty-p' ? addDays(asDay(REORGANISATION.day), -1) : row.to
      relate('holds', person(row.holder, row.contractor), row.key, { from: row.from, ...(end ? { to: end } : {}) })
    }
  }

  const { newHead, day } = REORGANISATION
  positions.push({
    id: asId(newHead.key),
    kind: 'position',
    name: newHead.title,
    fields: {
      unit: `unit-${newHead.unit}`,
      grade: newHead.grade,
      location: 'Marram Quay',
      cost: 78000,
      planned: true,
      order: positions.length + 1,
    },
    from: asDay(day),
  })
  relate('reports-to', newHead.key, newHead.under, { from: asDay(day) })
  relate('holds', person(newHead.holder, false), newHead.key, { from: asDay(day) })
  for (const [report, manager] of DOTTED) relate('reports-to', report, manager, { fields: { line: 'dotted' } })
  relate('reports-to', SECOND_MANAGER.report, SECOND_MANAGER.manager, { from: asDay(SECOND_MANAGER.from) })

  const roles = ROLES.map(([key, name, purpose, filling]): Entity => {
    for (const position of filling) relate('fills', position, `role-${key}`)
    return { id: asId(`role-${key}`), kind: 'role', name, fields: { purpose } }
  })
  const units = Object.entries(UNITS).map(([id, name]): Entity => ({
    id: asId(`unit-${id}`),
    kind: 'unit',
    name,
    fields: {},
  }))
  for (const unit of Object.keys(UNITS))
    if (unit !== COMPANY && unit !== 'harbour') relate('part-of', `unit-${unit}`, `unit-${COMPANY}`)
  const work = processFacts()
  const systems = work.entities.filter(({ kind }) => kind === 'system')
  const network = networkFacts(systems)
  const software = classFacts(systems)
  const database = databaseFacts(Model.of(software))
  const states = stateFacts()
  const parts = componentFacts([...systems, ...network.entities.filter(({ kind }) => kind === 'device')])
  const cases = caseFacts([...systems, ...roles])
  const sequences = sequenceFacts(software.entities)
  const figures = figureFacts(25)
  const plans = planFacts((name) => {
    const found = people.get(name)
    if (!found) throw new RangeError(`the demo has no “${name}”`)
    return found.id
  })
  return Model.of({
    name: 'Marram Sound Ferries',
    settings: { thresholds: { 'org/no-head': 2, 'org/wide-span': 9 }, accepted: {} },
    entities: [
      ...units,
      ...roles,
      ...positions,
      ...people.values(),
      ...work.entities,
      ...plans.entities,
      ...network.entities,
      ...software.entities,
      ...database,
      ...states.entities,
      ...sequences.entities,
      ...cases.entities,
      ...parts.entities,
      ...figures.entities,
    ],
    relations: [
      ...relations,
      ...work.relations,
      ...plans.relations,
      ...network.relations,
      ...software.relations,
      ...states.relations,
      ...cases.relations,
      ...parts.relations,
      ...figures.relations,
    ],
    views: [...views(), ...figures.views],
  })
}

/** Posts older than the two years that the demo tells of stand since the company took its present form. */
const FOUNDED = asDay('2018-01-01')
const TOLD_FROM = asDay('2025-01-01')

/** What somebody can do, as far as the demo tells. */
function skillsOf(name: string): Entity['fields'] {
  const skills = Object.keys(SKILLS).filter((skill) => SKILLS[skill]?.includes(name))
  return skills.length > 0 ? { skills } : {}
}

function positionOf(row: Row, order: number): Entity {
  const { key, title, unit, grade, fte, location, cost, to } = row
  const hadHolderBefore = TENURES.some(([position, , first]) => position === key && first < row.from)
  const from = row.from < TOLD_FROM || hadHolderBefore ? FOUNDED : row.from
  return {
    id: asId(key),
    kind: 'position',
    name: title,
    fields: { unit: `unit-${unit}`, grade, fte, location, cost, order },
    from,
    ...(to ? { to } : {}),
  }
}

function views(): View[] {
  const view = (id: string, title: string, order: number, more: Partial<View> = {}): View => ({
    id: asId(id),
    notation: 'organisation',
    picture: 'tree',
    title,
    order,
    scope: {},
    options: {},
    pins: {},
    look: {},
    ...more,
  })
  return [
    view('whole-company', 'Whole company', 1, {
      caption: 'Marram Sound Ferries and Skerry Harbour Company',
    }),
    view('port-services', 'Port services', 2, { scope: { root: 'ports' }, options: { colour: 'location' } }),
    view('two-levels', 'Leads only', 3, { options: { levels: '2' } }),
    view('units', 'Units and their size', 4, { picture: 'units' }),
    view('directory', 'Who is who', 5, { picture: 'directory' }),
    view('port-grades', 'Grades at the ports', 5.5, {
      scope: { root: 'ports' },
      look: {
        heading: true,
        asOf: true,
        source: 'Staff list of Marram Sound Ferries',
        ground: 'tint',
        rules: ['colour by grade', 'strong where holder has vacant'],
        letters: true,
        'emphasis ports': ['plain'],
        'note first': ['1', 'Both supervisors answer for the berths of their quay, by day and by night.', 'berth-n'],
        'note second': ['2', 'Grades are those of the agreement of January 2026.'],
      },
    }),
    view('cancelled', 'Sailing cancelled', 6, {
      notation: 'process',
      picture: 'lanes',
      scope: { process: 'process-sc' },
    }),
    view('fare', 'New fare published', 7, { notation: 'process', picture: 'lanes', scope: { process: 'process-fp' } }),
    view('duties', 'Who does what when a sailing is cancelled', 8, {
      notation: 'process',
      picture: 'raci',
      scope: { process: 'process-sc' },
    }),
    view('dry-dock', 'Dry dock and new ticketing', 9, {
      notation: 'schedule',
      picture: 'bars',
      scope: { plan: 'plan-dt' },
      options: { unit: 'weeks' },
    }),
    view('history', '1887 to 2028', 10, {
      notation: 'schedule',
      picture: 'timeline',
      scope: { plan: 'plan-history' },
    }),
    ...networkViews,
    ...classViews,
    ...stateViews,
    ...sequenceViews,
    ...caseViews,
    ...componentViews,
  ]
}

function readRows(text: string): Row[] {
  const path: string[] = []
  return text
    .split('\n')
    .filter((line) => line.trim())
    .map((line): Row => {
      const depth = (line.length - line.trimStart().length) / 2
      const [
        key = '',
        title = '',
        holder = '',
        unit = '',
        grade = '',
        fte = '',
        location = '',
        cost = '',
        from = '',
        to = '',
      ] = line.split('|').map((cell) => cell.trim())
      path.length = depth
      const above = path[depth - 1]
      path.push(key)
      return {
        key,
        above,
        assistant: title.startsWith('+'),
        contractor: holder.startsWith('('),
        title: title.replace(/^\+\s*/, ''),
        holder: holder.replace(/[()]/g, ''),
        unit,
        grade,
        fte: Number(fte),
        location,
        cost: Number(cost),
        from: asDay(from),
        to: to === '' ? undefined : asDay(to),
      }
    })
}
