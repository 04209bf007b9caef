import latin from '@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-normal.woff2?url'
import latinExtended from '@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-wght-normal.woff2?url'
import slanted from '@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-italic.woff2?url'
import mono from '@fontsource-variable/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-wght-normal.woff2?url'
import { layersOf, svgSize, toSvg, type Mark, type Scene, type SvgOptions } from '../core/scene'

const MOST_SIDE = 16_000

/** The scene as PNG, exactly as wide as asked, drawn by the browser with the shipped fonts inside. @throws Error in words. */
export async function pngBlob(workspace: string, scene: Scene, options: SvgOptions): Promise<Blob> {
  const { width, height } = svgSize(scene, options)
  if (height > MOST_SIDE || width * height > 120_000_000)
    throw new Error(
      `At ${width} px this picture would be ${height} px high, more than can be drawn. Choose a smaller width.`,
    )
  const svg = toSvg(scene, { ...options, style: await fontFaces(), images: await imagesOf(workspace, scene) })
  const address = URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }))
  try {
    const image = new Image()
    image.src = address
    await image.decode()
    const canvas = document.createElement('canvas')
    canvas.width = width
    canvas.height = height
    canvas.getContext('2d')?.drawImage(image, 0, 0, width, height)
    const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'))
    if (!blob) throw new Error('The browser could not draw a picture of this size. Choose a smaller width.')
    return blob
  } finally {
    URL.revokeObjectURL(address)
  }
}

export const assetAddress = (workspace: string, asset: string): string =>
  `/api/workspaces/${workspace}/assets/${encodeURIComponent(asset)}`

/** The bytes of the images that a scene shows, as addresses that hold them: a picture that is handed out brings them along. */
export async function imagesOf(workspace: string, scene: Scene): Promise<ReadonlyMap<string, string>> {
  const wanted = new Set<string>()
  const look = (marks: readonly Mark[]) => {
    for (const mark of marks) {
      if (mark.tag === 'image') wanted.add(mark.attrs.href)
      else if (mark.tag === 'g') look(mark.children)
    }
  }
  for (const { marks } of layersOf(scene)) look(marks)
  return addressesOf(workspace, [...wanted])
}

/** The bytes of some pictures, as addresses that hold them; of one that is not there nothing. */
export async function addressesOf(workspace: string, assets: readonly string[]): Promise<ReadonlyMap<string, string>> {
  const found = await Promise.all(
    assets.map(async (asset) => {
      const response = await fetch(assetAddress(workspace, asset))
      return response.ok ? [[asset, await dataUrl(await response.blob())] as const] : []
    }),
  )
  return new Map(found.flat())
}

/** An image is drawn apart from the page, so it has to bring its fonts along. */
async function fontFaces(): Promise<string> {
  const faces = [
    ['Atkinson Hyperlegible Next', latin],
    ['Atkinson Hyperlegible Next', latinExtended],
    ['Atkinson Hyperlegible Mono', mono],
    ['Atkinson Hyperlegible Next', slanted],
  ] as const
  const ranges = [
    'U+0000-00FF, U+2000-206F, U+20AC, U+2122, U+2190-2193, U+2212',
    'U+0100-02BA, U+1E00-1E9F',
    'U+0000-00FF',
    'U+0000-00FF, U+2000-206F, U+20AC, U+2122, U+2190-2193, U+2212',
  ]
  const rules = faces.map(async ([family, address], index) => {
    const font = await (await fetch(address)).blob()
    return `@font-face{font-family:'${family}';font-weight:200 800;font-style:${address === slanted ? 'italic' : 'normal'};unicode-range:${ranges[index]};src:url(${await dataUrl(font)}) format('woff2')}`
  })
  return (await Promise.all(rules)).join('')
}

const dataUrl = (blob: Blob): Promise<string> =>
  new Promise((resolve, reject) => {
    const reader = new FileReader()
    reader.onload = () => resolve(String(reader.result))
    reader.onerror = () => reject(reader.error ?? new Error('A font could not be read.'))
    reader.readAsDataURL(blob)
  })

/** Hands a file to the browser’s downloads. */
export function save(blob: Blob, name: string): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(blob)
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
}

export const slug = (text: string): string =>
  text
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 60) || 'picture'
