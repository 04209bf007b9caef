import { covers, type Entity } from '../../src/core/model'
import {
  adding,
  asKind,
  changed,
  COMMON,
  containerOf,
  fieldColumn,
  fix,
  fromColumn,
  GONE,
  lineFor,
  moved,
  nameColumn,
  plainView,
  readList,
  reading,
  referenceColumn,
  removal,
  removeRelation,
  rowsOf,
  setEntity,
  setField,
  starterFrom,
  tieColumn,
  toColumn,
  unquoted,
  writing,
  type Field,
  type Notation,
  type Outline,
  type Picture,
  type Rule,
} from '../../src/core/notation'
import { addEntity } from '../../src/core/notation'
import { around, kit } from '../../src/core/scene'

/** A whole notation on a page, as small as one can be: berths of a port, what they are for, and what lies beside what. */

const ports = containerOf('port', 'Port')
const order: Field = { id: 'order', label: 'Order', type: 'number', hidden: true }
const length: Field = { id: 'length', label: 'Length', type: 'number', unit: 'm', min: 0, max: 900 }
const site: Field = { id: 'site', label: 'Site', type: 'reference', refers: ['site'] }

const berthsOf = (model: Parameters<Picture['draw']>[0], view: Parameters<Picture['draw']>[1], day: string): Entity[] =>
  model
    .ofKind('berth')
    .filter((one) => one.fields['port'] === ports.of(model, view) && covers(one, day as never))
    .sort((a, b) => Number(a.fields['order']) - Number(b.fields['order']))

const readLine = (line: string): { name: string; length: number | undefined } => {
  const { text, plain } = unquoted(line)
  const [, name = text.trim(), metres] = /^(.*?)\s+(\d{1,3})\s*m$/.exec(text.trim()) ?? []
  return { name: plain(name) || 'Berth', length: metres === undefined ? undefined : Number(metres) }
}
const lineOf = ({ name, fields }: Entity): string =>
  lineFor(
    (text) => [text(name), ...(typeof fields['length'] === 'number' ? [`${fields['length']} m`] : [])].join('  '),
    (text) => readLine(text).name === name,
  )

const outline: Outline = {
  hint: 'North quay  120 m',
  lines: (model, view, day) => berthsOf(model, view, day).map((one) => ({ id: one.id, depth: 0, text: lineOf(one) })),
  write: (_wish, line, text) => {
    const read = readLine(text)
    return changed(writing(text), [setEntity(line, 'name', read.name), setField(line, 'length', read.length ?? null)])
  },
  insert: (wish, _line, text) => outline.paste(wish, undefined, text || 'Berth'),
  indent: () => ({ refused: 'Berths have one level.' }),
  outdent: () => ({ refused: 'Berths have one level.' }),
  move: ({ model, view, day }, line, by) => {
    const one = model.entities.get(line)
    return one ? changed(`Move “${one.name}”`, moved(berthsOf(model, view, day), one, by)) : GONE
  },
  remove: ({ model }, line) => changed('Remove a berth', removal(model, line)),
  paste: (wish, _line, text) => {
    const lines = readList(text)
    if ('refused' in lines) return lines
    const port = ports.forWish(wish)
    const made = lines.map((line, at) => {
      const { name, length: metres } = readLine(line.text)
      const fields = { port: port.id, order: at + 1, ...(metres === undefined ? {} : { length: metres }) }
      return addEntity({ id: wish.newId(), kind: 'berth', name, fields })
    })
    return changed('Paste berths', [...port.steps, ...made])
  },
}

const row: Picture = {
  id: 'row',
  title: 'Row',
  good: 'Berths side by side',
  draws: ['berth'],
  options: [],
  draw: (model, view, day) => {
    const items = berthsOf(model, view, day).map((one, at) => ({
      id: one.id,
      facts: [one.id],
      label: one.name,
      box: { x: 20 + at * 130, y: 20, width: 110, height: 40 },
      marks: [
        kit.rect({ x: 0.5, y: 0.5, width: 109, height: 39 }, { fill: 'plate', stroke: 'outline', rx: 2 }),
        kit.text(8, 24, one.name, { fill: 'ink', 'font-size': 12 }),
      ],
      texts: [],
    }))
    const bounds = around(
      items.map(({ box }) => box),
      20,
    )
    return { bounds, backdrop: [], items, links: [], headline: `${items.length} berths`, summary: 'Berths in a row.' }
  },
}

const alone: Rule = {
  id: 'berth/beside-itself',
  severity: 'error',
  title: 'Beside itself',
  why: 'Nothing lies beside itself.',
  source: COMMON,
  check: (model) =>
    model.relationsOfKind('beside').flatMap(({ id, source, target }) => {
      const fixes = [fix('Take it away', removeRelation(id))]
      return source === target ? [{ message: 'A berth lies beside itself.', subjects: [source], fixes }] : []
    }),
}

export const berths: Notation = {
  id: 'berths',
  title: 'Berths',
  chapter: 'Ports',
  entityKinds: [
    { id: 'port', title: 'Port', plural: 'Ports', fields: [] },
    { id: 'berth', title: 'Berth', plural: 'Berths', fields: [length, site, ports.field, order] },
    { id: 'buoy', title: 'Buoy', plural: 'Buoys', fields: [ports.field, order] },
  ],
  relationKinds: [{ id: 'beside', title: 'lies beside', sources: ['berth'], targets: ['berth'], fields: [] }],
  pictures: [row],
  scope: [ports.field],
  actions: [
    ports.show,
    {
      id: 'to-buoy',
      label: 'Make it a buoy',
      applies: ({ selection }) => selection.length === 1,
      run: ({ model, selection: [id] }) => {
        const one = id === undefined ? undefined : model.entities.get(id)
        return one
          ? changed(
              'Make it a buoy',
              asKind(one, 'buoy', (field) => field !== 'length'),
            )
          : GONE
      },
    },
  ],
  rules: reading({ facts: { beside: true } }, alone),
  registers: [
    {
      id: 'berths',
      title: 'Berths',
      kind: 'berth',
      columns: [
        nameColumn('Berth', 160),
        fieldColumn(length, 70),
        referenceColumn(site, 120, 'site'),
        tieColumn('beside', 'Beside', 'berth', 'lies beside'),
        fromColumn,
        toColumn,
      ],
      rows: rowsOf('berth'),
      add: adding('berth', 'New berth', ({ model, view }) => ({ port: ports.of(model, view) ?? '' })),
    },
  ],
  outline,
  lists: [],
  numbers: [],
  measures: (model) => ({ of: 'everything', list: [{ label: 'Berths', value: String(model.ofKind('berth').length) }] }),
  imports: [],
  files: [],
  exports: [],
  starters: [
    starterFrom(outline, plainView('berths', 'row'), { port: '' })(
      'two',
      'Two berths',
      'A quay',
      'North  120 m\nSouth',
    ),
  ],
  describe: (model, id) => model.entities.get(id)?.kind,
  ties: () => [],
  view: plainView('berths', 'row'),
  blank: { port: '' },
}
