import { createHash } from 'node:crypto'
import sharp from 'sharp'
import { assetId } from '../../core/model'
import { findAsset, insertAsset, listAssets, type Asset } from '../repositories/assets'
import { NotFound } from './errors'
import { isOurs, squared, whole } from './photos'
import type { Store } from './store'
import { loadWorkspace } from './workspaces'

/**
 * A picture as it is kept: upright, cropped to a square around what draws the eye unless it is to stay whole, drawn anew as JPEG, so that nothing
 * of the file but its picture is kept. @throws BadRequest in words, NotFound
 */
export async function keepPhoto(
  store: Store,
  workspace: string,
  bytes: Uint8Array,
  shape: 'square' | 'whole' | 'kept',
): Promise<{ id: string }> {
  await loadWorkspace(store, workspace)
  const content = await (shape === 'kept' ? kept(bytes) : shape === 'whole' ? whole(bytes) : squared(bytes))
  const id = await identityOf(content)
  await insertAsset(store.database, workspace, { id, mediaType: 'image/jpeg', content })
  return { id }
}

async function identityOf(content: Buffer): Promise<string> {
  const { width, height } = await sharp(content).metadata()
  return assetId(createHash('sha1').update(content).digest('hex'), width, height)
}

/** A picture that this program kept in another workspace stays as it is, under the identity that facts know it by; any other is drawn anew. */
async function kept(bytes: Uint8Array): Promise<Buffer> {
  const content = Buffer.from(bytes)
  const isKept = await identityOf(content).then(
    (id) => isOurs(id, content),
    () => false,
  )
  return isKept ? content : whole(bytes)
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
