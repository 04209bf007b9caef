/** Writes docs/workspace-file.schema.json from the kinds of all notations: npx tsx scripts/schema.ts */
import { writeFileSync } from 'node:fs'
import { workspaceSchema } from '../src/core/file/jsonSchema'
import { registry } from '../src/core/notations'

writeFileSync('docs/workspace-file.schema.json', `${JSON.stringify(workspaceSchema(registry), null, 2)}\n`)
