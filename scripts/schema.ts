/** Writes the schemas in docs/, that of workspaces from the kinds of all notations: npx tsx scripts/schema.ts */
import { writeFileSync } from 'node:fs'
import { workspaceSchema } from '../src/core/file/jsonSchema'
import { themeSchema } from '../src/core/file'
import { registry } from '../src/core/notations'

writeFileSync('docs/workspace-file.schema.json', `${JSON.stringify(workspaceSchema(registry), null, 2)}\n`)
writeFileSync('docs/theme-file.schema.json', `${JSON.stringify(themeSchema(), null, 2)}\n`)
