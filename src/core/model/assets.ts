/** The identity of a picture: the digest of its bytes, and its size in px where it is no square. */
export const ASSET = /^[0-9a-f]{40}(?:-(\d{1,4})x(\d{1,4}))?$/
export const isAsset = (id: string): boolean => ASSET.test(id)

/** The identity of a picture of some bytes. */
export const assetId = (digest: string, width: number, height: number): string =>
  width === height ? digest : `${digest}-${width}x${height}`

/** The width of a picture over its height, as its identity says. */
export function shapeOfAsset(asset: string): number {
  const [, width, height] = ASSET.exec(asset) ?? []
  return Number(width) / Number(height) || 1
}
