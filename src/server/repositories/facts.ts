import type { Day, Entity, Fields, Id, Model, Relation, Settings, Step, View } from '../../core/model'
import { Model as Facts } from '../../core/model'
import type { Database } from '../db/pool'

/** Rows written by one statement: keeps a statement well below the server's largest packet. */
const CHUNK = 4000

interface FactRow {
  readonly id: Id
  readonly kind: string
  readonly fields: Fields
  readonly from_day: Day | null
  readonly to_day: Day | null
}

/** All facts of a workspace, in the order in which they were stated. Three statements. */
export async function readFacts(
  database: Database,
  workspace: string,
  name: string,
  settings: Settings,
): Promise<Model> {
  const [entities, relations, views] = await Promise.all([
    database.rows<FactRow & { name: string }>(
      'SELECT id, kind, name, fields, from_day, to_day FROM entity WHERE workspace_id = ? ORDER BY seq',
      [workspace],
    ),
    database.rows<FactRow & { source: Id; target: Id }>(
      'SELECT id, kind, source, target, fields, from_day, to_day FROM relation WHERE workspace_id = ? ORDER BY seq',
      [workspace],
    ),
    database.rows<{ definition: View }>('SELECT definition FROM `view` WHERE workspace_id = ? ORDER BY seq', [
      workspace,
    ]),
  ])
  return Facts.of({
    name,
    settings: { ...Facts.empty.settings, ...settings },
    entities: entities.map(({ id, kind, name: called, fields, ...row }): Entity => ({
      id,
      kind,
      name: called,
      fields,
      ...period(row),
    })),
    relations: relations.map(({ id, kind, source, target, fields, ...row }): Relation => ({
      id,
      kind,
      source,
      target,
      fields,
      ...period(row),
    })),
    views: views.map(({ definition }) => definition),
  })
}

const period = (row: { from_day: Day | null; to_day: Day | null }) => ({
  ...(row.from_day ? { from: row.from_day } : {}),
  ...(row.to_day ? { to: row.to_day } : {}),
})

/**
 * Writes the facts that the steps touched as they stand in `model`, in the order in which it holds them. A few statements, whatever
 * the number of steps.
 */
export async function writeTouched(
  database: Database,
  workspace: string,
  model: Model,
  steps: readonly Step[],
): Promise<void> {
  const { entity, relation, view } = touchedBy(steps)
  await store(database, workspace, 'entity', entity, model.entities, entityRow)
  await store(database, workspace, 'relation', relation, model.relations, relationRow)
  await store(database, workspace, 'view', view, model.views, viewRow)
}

/** Writes all facts of a new workspace. */
export async function writeAll(database: Database, workspace: string, model: Model): Promise<void> {
  const all = (facts: ReadonlyMap<Id, unknown>): Touched => ({ removed: new Set(), written: new Set(facts.keys()) })
  await store(database, workspace, 'entity', all(model.entities), model.entities, entityRow)
  await store(database, workspace, 'relation', all(model.relations), model.relations, relationRow)
  await store(database, workspace, 'view', all(model.views), model.views, viewRow)
}

/** Facts of one sort: those that a step removed, even if a later one made them anew, and all that a step wrote, the last made last. */
interface Touched {
  readonly removed: Set<Id>
  readonly written: Set<Id>
}

function touchedBy(steps: readonly Step[]) {
  const nothing = (): Touched => ({ removed: new Set(), written: new Set() })
  const touched = { entity: nothing(), relation: nothing(), view: nothing() }
  const made = ({ written }: Touched, id: Id) => void (written.delete(id), written.add(id))
  for (const step of steps) {
    if (step.do === 'add-entity') made(touched.entity, step.entity.id)
    else if (step.do === 'add-relation') made(touched.relation, step.relation.id)
    else if (step.do === 'add-view') made(touched.view, step.view.id)
    else if (step.do === 'set-entity') touched.entity.written.add(step.id)
    else if (step.do === 'set-relation') touched.relation.written.add(step.id)
    else if (step.do === 'set-view') touched.view.written.add(step.id)
    else if (step.do === 'remove-entity') touched.entity.removed.add(step.id)
    else if (step.do === 'remove-relation') touched.relation.removed.add(step.id)
    else if (step.do === 'remove-view') touched.view.removed.add(step.id)
  }
  return touched
}

// Fields travel as text within the JSON, so that they are stored to the letter.
const dates = ({ from, to }: { from?: Day; to?: Day }) => ({ from: from ?? null, to: to ?? null })
const entityRow = (fact: Entity) => ({
  id: fact.id,
  kind: fact.kind,
  name: fact.name,
  fields: JSON.stringify(fact.fields),
  ...dates(fact),
})
const relationRow = (fact: Relation) => ({
  id: fact.id,
  kind: fact.kind,
  source: fact.source,
  target: fact.target,
  fields: JSON.stringify(fact.fields),
  ...dates(fact),
})
const viewRow = (view: View) => ({ id: view.id, definition: JSON.stringify(view) })

// Compared to the letter, as the tables do.
const TEXT = 'VARCHAR(64) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin'
const DATES = "from_day CHAR(10) PATH '$.from', to_day CHAR(10) PATH '$.to'"
const FACTS = { kind: `${TEXT} PATH '$.kind'`, fields: "LONGTEXT PATH '$.fields'" }

/** One statement a sort of fact takes any number of rows as a JSON list. */
const UPSERT = {
  entity: `INSERT INTO entity (workspace_id, id, kind, name, fields, from_day, to_day)
    SELECT ?, t.* FROM JSON_TABLE(?, '$[*]' COLUMNS (id ${TEXT} PATH '$.id', kind ${FACTS.kind}, name VARCHAR(400) PATH '$.name', fields ${FACTS.fields}, ${DATES})) t
    ON DUPLICATE KEY UPDATE kind = VALUES(kind), name = VALUES(name), fields = VALUES(fields), from_day = VALUES(from_day), to_day = VALUES(to_day)`,
  relation: `INSERT INTO relation (workspace_id, id, kind, source, target, fields, from_day, to_day)
    SELECT ?, t.* FROM JSON_TABLE(?, '$[*]' COLUMNS (id ${TEXT} PATH '$.id', kind ${FACTS.kind}, source ${TEXT} PATH '$.source', target ${TEXT} PATH '$.target', fields ${FACTS.fields}, ${DATES})) t
    ON DUPLICATE KEY UPDATE kind = VALUES(kind), source = VALUES(source), target = VALUES(target), fields = VALUES(fields), from_day = VALUES(from_day), to_day = VALUES(to_day)`,
  view: `INSERT INTO \`view\` (workspace_id, id, definition)
    SELECT ?, t.* FROM JSON_TABLE(?, '$[*]' COLUMNS (id ${TEXT} PATH '$.id', definition LONGTEXT PATH '$.definition')) t
    ON DUPLICATE KEY UPDATE definition = VALUES(definition)`,
} as const

const remove = (table: keyof typeof UPSERT): string =>
  `DELETE FROM \`${table}\` WHERE workspace_id = ? AND id IN (SELECT id FROM JSON_TABLE(?, '$[*]' COLUMNS (id ${TEXT} PATH '$')) t)`

/** A fact that was removed and made anew stands last, so its row goes before it comes. */
async function store<T>(
  database: Database,
  workspace: string,
  table: keyof typeof UPSERT,
  { removed, written }: Touched,
  facts: ReadonlyMap<Id, T>,
  rowOf: (fact: T) => object,
): Promise<void> {
  const gone = [...removed]
  const kept = [...written].flatMap((id) => {
    const fact = facts.get(id)
    return fact ? rowOf(fact) : []
  })
  for (let i = 0; i < gone.length; i += CHUNK)
    await database.write(remove(table), [workspace, JSON.stringify(gone.slice(i, i + CHUNK))])
  for (let i = 0; i < kept.length; i += CHUNK)
    await database.write(UPSERT[table], [workspace, JSON.stringify(kept.slice(i, i + CHUNK))])
}
