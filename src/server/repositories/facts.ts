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
    database.rows<{ definition: View }>('SELECT definition FROM `view` WHERE workspace_id = ?', [workspace]),
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

/** Writes the facts that the steps touched as they stand in `model`. A few statements, whatever the number of steps. */
export async function writeTouched(
  database: Database,
  workspace: string,
  model: Model,
  steps: readonly Step[],
): Promise<void> {
  const touched = touchedBy(steps)
  await store(database, workspace, 'entity', touched.entity, model.entities, entityRow)
  await store(database, workspace, 'relation', touched.relation, model.relations, relationRow)
  await store(database, workspace, 'view', touched.view, model.views, viewRow)
}

/** Writes all facts of a new workspace. */
export async function writeAll(database: Database, workspace: string, model: Model): Promise<void> {
  await store(database, workspace, 'entity', model.entities.keys(), model.entities, entityRow)
  await store(database, workspace, 'relation', model.relations.keys(), model.relations, relationRow)
  await store(database, workspace, 'view', model.views.keys(), model.views, viewRow)
}

function touchedBy(steps: readonly Step[]) {
  const touched = { entity: new Set<Id>(), relation: new Set<Id>(), view: new Set<Id>() }
  for (const step of steps) {
    if (step.do === 'add-entity') touched.entity.add(step.entity.id)
    else if (step.do === 'add-relation') touched.relation.add(step.relation.id)
    else if (step.do === 'add-view') touched.view.add(step.view.id)
    else if (step.do === 'set-entity' || step.do === 'remove-entity') touched.entity.add(step.id)
    else if (step.do === 'set-relation' || step.do === 'remove-relation') touched.relation.add(step.id)
    else if (step.do === 'set-view' || step.do === 'remove-view') touched.view.add(step.id)
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

const TEXT = 'VARCHAR(64)'
const DATES = "from_day CHAR(10) PATH '$.from', to_day CHAR(10) PATH '$.to'"
const FACTS = { kind: `${TEXT} PATH '$.kind'`, fields: "LONGTEXT PATH '$.fields'" }

/** One statement a sort of fact takes any number of rows as a JSON list. */
const UPSERT = {
  entity: `INSERT INTO entity (workspace_id, id, kind, name, fields, from_day, to_day)
    SELECT ?, t.* FROM JSON_TABLE(?, '$[*]' COLUMNS (id ${TEXT} PATH '$.id', kind ${FACTS.kind}, name VARCHAR(400) PATH '$.name', fields ${FACTS.fields}, ${DATES})) t
    ON DUPLICATE KEY UPDATE name = VALUES(name), fields = VALUES(fields), from_day = VALUES(from_day), to_day = VALUES(to_day)`,
  relation: `INSERT INTO relation (workspace_id, id, kind, source, target, fields, from_day, to_day)
    SELECT ?, t.* FROM JSON_TABLE(?, '$[*]' COLUMNS (id ${TEXT} PATH '$.id', kind ${FACTS.kind}, source ${TEXT} PATH '$.source', target ${TEXT} PATH '$.target', fields ${FACTS.fields}, ${DATES})) t
    ON DUPLICATE KEY UPDATE source = VALUES(source), target = VALUES(target), fields = VALUES(fields), from_day = VALUES(from_day), to_day = VALUES(to_day)`,
  view: `INSERT INTO \`view\` (workspace_id, id, definition)
    SELECT ?, t.* FROM JSON_TABLE(?, '$[*]' COLUMNS (id ${TEXT} PATH '$.id', definition LONGTEXT PATH '$.definition')) t
    ON DUPLICATE KEY UPDATE definition = VALUES(definition)`,
} as const

const remove = (table: keyof typeof UPSERT): string =>
  `DELETE FROM \`${table}\` WHERE workspace_id = ? AND id IN (SELECT id FROM JSON_TABLE(?, '$[*]' COLUMNS (id ${TEXT} PATH '$')) t)`

async function store<T>(
  database: Database,
  workspace: string,
  table: keyof typeof UPSERT,
  ids: Iterable<Id>,
  facts: ReadonlyMap<Id, T>,
  rowOf: (fact: T) => object,
): Promise<void> {
  const kept: object[] = []
  const gone: Id[] = []
  for (const id of ids) {
    const fact = facts.get(id)
    if (fact) kept.push(rowOf(fact))
    else gone.push(id)
  }
  for (let i = 0; i < gone.length; i += CHUNK)
    await database.write(remove(table), [workspace, JSON.stringify(gone.slice(i, i + CHUNK))])
  for (let i = 0; i < kept.length; i += CHUNK)
    await database.write(UPSERT[table], [workspace, JSON.stringify(kept.slice(i, i + CHUNK))])
}
