import { createHash } from 'node:crypto'
import sharp from 'sharp'
import { findAsset, insertAsset, listAssets, type Asset } from '../repositories/assets'
import { BadRequest, NotFound } from './errors'
import type { Store } from './store'
import { loadWorkspace } from './workspaces'

/** Bytes of a picture that is sent. */
export const PHOTO_MOST = 5_000_000
const SIDE = 320
const MOST_PIXELS = 60_000_000
const TAKEN = new Set(['png', 'jpeg', 'webp'])

/**
 * A photo as it is kept: upright, cropped to a square around what draws the eye, drawn anew as JPEG, so that nothing of the file but its
 * picture is kept. @throws BadRequest in words, NotFound
 */
export async function keepPhoto(store: Store, workspace: string, bytes: Uint8Array): Promise<{ id: string }> {
  await loadWorkspace(store, workspace)
  const content = await squared(bytes)
  const id = createHash('sha1').update(content).digest('hex')
  await insertAsset(store.database, workspace, { id, mediaType: 'image/jpeg', content })
  return { id }
}

async function squared(bytes: Uint8Array): Promise<Buffer> {
  const refused = (message: string) => new BadRequest(message, [{ path: 'body', message }])
  try {
    const picture = sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: 'error' })
    const { format } = await picture.metadata()
    if (!TAKEN.has(format)) throw refused('A photo is a PNG, JPEG or WebP file.')
    return await picture
      .rotate()
      .resize(SIDE, SIDE, { fit: 'cover', position: 'attention' })
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

/** @throws NotFound */
export async function assetOf(store: Store, workspace: string, id: string): Promise<Asset> {
  const asset = await findAsset(store.database, workspace, id)
  if (!asset) throw new NotFound('There is no such picture.')
  return asset
}

/** All pictures of a workspace as addresses that hold their bytes, for files that travel. */
export async function assetAddresses(store: Store, workspace: string): Promise<ReadonlyMap<string, string>> {
  const assets = await listAssets(store.database, workspace)
  return new Map(
    assets.map(({ id, mediaType, content }) => [id, `data:${mediaType};base64,${content.toString('base64')}`]),
  )
}
