#!/usr/bin/env node
// The core is TypeScript and is run as it stands: no build step beyond `npm ci`.
import { register } from 'tsx/esm/api'

register()
const { main } = await import('../src/cli/main.ts')
process.exitCode = await main(
  process.argv.slice(2),
  (text) => process.stdout.write(text),
  (text) => process.stderr.write(text),
)
