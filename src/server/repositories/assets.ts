import type { Database } from '../db/pool'

export interface Asset {
  readonly id: string
  readonly mediaType: string
  readonly content: Buffer
}

interface AssetRow {
  readonly id: string
  readonly media_type: string
  readonly content: Buffer
}

const assetOf = ({ id, media_type, content }: AssetRow): Asset => ({ id, mediaType: media_type, content })

/** Keeps an asset; one that is there already stays as it is. */
export async function insertAsset(database: Database, workspace: string, asset: Asset): Promise<void> {
  await database.write('INSERT IGNORE INTO asset (workspace_id, id, media_type, content) VALUES (?, ?, ?, ?)', [
    workspace,
    asset.id,
    asset.mediaType,
    asset.content,
  ])
}

export async function copyAssets(database: Database, from: string, to: string): Promise<void> {
  await database.write(
    'INSERT INTO asset (workspace_id, id, media_type, content) SELECT ?, id, media_type, content FROM asset WHERE workspace_id = ?',
    [to, from],
  )
}

export async function findAsset(database: Database, workspace: string, id: string): Promise<Asset | undefined> {
  const [row] = await database.rows<AssetRow>(
    'SELECT id, media_type, content FROM asset WHERE workspace_id = ? AND id = ?',
    [workspace, id],
  )
  return row && assetOf(row)
}

export async function listAssets(database: Database, workspace: string): Promise<Asset[]> {
  const rows = await database.rows<AssetRow>('SELECT id, media_type, content FROM asset WHERE workspace_id = ?', [
    workspace,
  ])
  return rows.map(assetOf)
}
