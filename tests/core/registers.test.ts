import { describe, expect, it } from 'vitest'
import { asDay, asId, type Entity, type FieldValue, type Fields, type Id, type Model } from '../../src/core/model'
import { registry } from '../../src/core/notations'
import { marramSoundFerries } from '../../src/demo'

const TODAY = asDay('2026-11-24')
const WALKS = [
  'filter',
  'find',
  'findIndex',
  'flatMap',
  'map',
  'some',
  'every',
  'includes',
  'indexOf',
  'reduce',
] as const

/** How many entries of lists are walked past while something is done. */
function walked(what: () => void): number {
  let entries = 0
  const lists = Array.prototype as unknown as Record<string, (...args: unknown[]) => unknown>
  const own = WALKS.map((name) => [name, lists[name]] as const)
  for (const [name, walk] of own)
    lists[name] = function (this: unknown[], ...args) {
      entries += this.length
      return walk?.apply(this, args)
    }
  try {
    what()
  } finally {
    for (const [name, walk] of own) if (walk) lists[name] = walk
  }
  return entries
}

/** What views show one of: networks, plans, processes, units. */
const HOMES: ReadonlySet<string> = new Set(
  registry.notations.flatMap(({ scope }) => scope.flatMap(({ refers }) => refers ?? [])),
)

/** The facts so many times over, apart from those of some kinds. */
function times(model: Model, copies: number, homes: ReadonlySet<string>): Model {
  const isCopied = ({ kind }: Entity) => !homes.has(kind)
  const entities = new Map(model.entities)
  const relations = new Map(model.relations)
  for (let copy = 1; copy < copies; copy++) {
    const other = (id: Id): Id => {
      const one = model.entities.get(id)
      return one && isCopied(one) ? asId(`${id}~${copy}`) : id
    }
    const fields = (all: Fields): Fields =>
      Object.fromEntries(
        Object.entries(all).map(([key, value]): [string, FieldValue] => [
          key,
          typeof value === 'string' && model.entities.has(value as Id) ? other(value as Id) : value,
        ]),
      )
    for (const one of model.entities.values())
      if (isCopied(one))
        entities.set(other(one.id), {
          ...one,
          id: other(one.id),
          name: `${one.name} ${copy}`,
          fields: fields(one.fields),
        })
    for (const one of model.relations.values()) {
      const id = asId(`${one.id}~${copy}`)
      relations.set(id, {
        ...one,
        id,
        source: other(one.source),
        target: other(one.target),
        fields: fields(one.fields),
      })
    }
  }
  return model.with({ entities, relations })
}

describe.each([
  { of: 'the same homes', homes: HOMES },
  { of: 'homes of their own', homes: new Set<string>() },
])('registers of facts in $of', ({ homes }) => {
  const demo = marramSoundFerries()
  const [few, many] = [times(demo, 2, homes), times(demo, 8, homes)]
  const cases = registry.notations.flatMap((notation) =>
    notation.registers.flatMap((register) => {
      const view = [...demo.views.values()].find(
        (one) => one.notation === notation.id && (register.pictures?.includes(one.picture) ?? true),
      )
      return view ? [{ name: `${notation.id} ${register.id}`, register, view }] : []
    }),
  )

  it.each(cases)('are read without walking all rows for each row: $name', ({ register, view }) => {
    const reading = (model: Model) => {
      const read = () => {
        const rows = register.rows(model, view, TODAY)
        for (const row of rows)
          for (const column of register.columns) {
            column.read(model, row, TODAY)
            column.chips?.(model, row, TODAY)
          }
        return rows.length
      }
      // What is worked out once for the facts is no matter of rows.
      const rows = read()
      return { rows, entries: walked(read) }
    }
    const [small, large] = [reading(few), reading(many)]
    const [before, after] = [small, large].map(({ entries, rows }) => entries / Math.max(1, rows))
    expect(after, `${small.rows} → ${large.rows} rows`).toBeLessThan(1.5 * (before ?? 0) + 20)
  })
})
