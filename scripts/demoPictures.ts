/** Draws the demo's pictures as photos are kept, into a file that travels with it: npx tsx scripts/demoPictures.ts */
import { createHash } from 'node:crypto'
import { writeFileSync } from 'node:fs'
import { Resvg } from '@resvg/resvg-js'
import sharp from 'sharp'
import { DRAWINGS } from './demoDrawings'

const pictures: Record<string, { id: string; address: string }> = {}
async function main(): Promise<void> {
  for (const [event, svg] of Object.entries(DRAWINGS)) {
    const bytes = await sharp(new Resvg(svg).render().asPng()).jpeg({ quality: 78, mozjpeg: true }).toBuffer()
    const id = createHash('sha1').update(bytes).digest('hex')
    pictures[event] = { id, address: `data:image/jpeg;base64,${bytes.toString('base64')}` }
  }
  writeFileSync('src/demo/pictures.json', `${JSON.stringify(pictures, null, 1)}\n`)
}
void main()
