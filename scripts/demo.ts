/** Writes the demo as a workspace file, for the command line and for opening by hand: npx tsx scripts/demo.ts */
import { mkdirSync, writeFileSync } from 'node:fs'
import { writeWorkspace } from '../src/core/file'
import { marramPictures, marramSoundFerries } from '../src/demo'

mkdirSync('demo', { recursive: true })
writeFileSync(
  'demo/marram-sound-ferries.skivel.json',
  `${JSON.stringify(writeWorkspace(marramSoundFerries(), marramPictures()), null, 1)}\n`,
)
