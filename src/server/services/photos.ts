import { createHash } from 'node:crypto'
import sharp from 'sharp'
import type { Photos } from '../../core/file'
import { assetId } from '../../core/model'
import type { Asset } from '../repositories/assets'
import { BadRequest } from './errors'

/** Bytes of a picture that is sent. */
export const PHOTO_MOST = 5_000_000
const SIDE = 320
/** The longer side of a picture that is kept whole. */
const WHOLE = 1200
const MOST_PIXELS = 60_000_000
const TAKEN = new Set(['png', 'jpeg', 'webp'])

/**
 * Photos that came with a file. One that this program wrote is kept as it is, so that it loses nothing on its way; any other is drawn anew like
 * a photo that is sent, under the identity that the file's facts know it by. @throws BadRequest
 */
export async function assetsOf(pictures: Photos): Promise<Asset[]> {
  const assets: Asset[] = []
  for (const [id, address] of pictures) {
    const bytes = Buffer.from(address.slice(address.indexOf(',') + 1), 'base64')
    const content = (await isOurs(id, bytes)) ? bytes : await squared(bytes, `pictures.${id}`)
    assets.push({ id, mediaType: 'image/jpeg', content })
  }
  return assets
}

/** Whether bytes are a picture as this program keeps it, under its identity. */
export async function isOurs(id: string, bytes: Buffer): Promise<boolean> {
  const digest = createHash('sha1').update(bytes).digest('hex')
  if (!id.startsWith(digest)) return false
  try {
    const picture = sharp(bytes, { limitInputPixels: WHOLE * WHOLE, failOn: 'error' })
    const { format, width, height, exif, icc, xmp } = await picture.metadata()
    await picture.stats()
    if (id !== assetId(digest, width, height)) return false
    return format === 'jpeg' && width <= WHOLE && height <= WHOLE && !exif && !icc && !xmp
  } catch {
    // Drawing it anew says what is wrong with it.
    return false
  }
}

/** A picture cropped to a square and drawn anew. @throws BadRequest in words, at a path of what was sent */
export const squared = (bytes: Uint8Array, path?: string): Promise<Buffer> =>
  drawnAnew(bytes, (picture) => picture.resize(SIDE, SIDE, { fit: 'cover', position: 'attention' }), path)

/** A picture as it is, made smaller where it is large, and drawn anew. @throws BadRequest in words */
export const whole = (bytes: Uint8Array): Promise<Buffer> =>
  drawnAnew(bytes, (picture) => picture.resize(WHOLE, WHOLE, { fit: 'inside', withoutEnlargement: true }))

async function drawnAnew(
  bytes: Uint8Array,
  sized: (picture: sharp.Sharp) => sharp.Sharp,
  path = 'body',
): Promise<Buffer> {
  const refused = (message: string) => new BadRequest(message, [{ path, message }])
  try {
    const picture = sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: 'error' })
    const { format } = await picture.metadata()
    if (!TAKEN.has(format)) throw refused('A photo is a PNG, JPEG or WebP file.')
    return await sized(picture.rotate())
      .flatten({ background: '#ffffff' })
      .jpeg({ quality: 84, mozjpeg: true })
      .toBuffer()
  } catch (error) {
    if (error instanceof BadRequest) throw error
    // The library says in its own words what it cannot read; all of it is about the file that was sent.
    throw refused(
      `This picture cannot be read: ${error instanceof Error ? error.message.split('\n')[0] : String(error)}`,
    )
  }
}
