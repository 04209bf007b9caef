/** Writes src/core/scene/themes.json, the colours of all themes: npx tsx scripts/themes.ts */
import { writeFileSync } from 'node:fs'
import { computeThemes } from '../src/core/scene/palette'

writeFileSync('src/core/scene/themes.json', `${JSON.stringify(computeThemes(), null, 2)}\n`)
