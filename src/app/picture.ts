import { layersOf, svgSize, toSvg, type Mark, type Scene, type SvgOptions } from '../core/scene'
import { faceRule, facesIn, lettersIn } from '../core/scene/faces'
import { byName } from './fontFiles'
import { squareFor } from './square'

/** Where the faces are that travel with a picture, by the names of their files. */
const FACE_FILES = byName(
  import.meta.glob<string>(
    [
      '/node_modules/@fontsource-variable/atkinson-hyperlegible-next/files/*-{latin,latin-ext}-wght-{normal,italic}.woff2',
      '/node_modules/@fontsource-variable/atkinson-hyperlegible-mono/files/*-latin-wght-normal.woff2',
      '/node_modules/@fontsource-variable/noto-sans/files/*-{greek,cyrillic,greek-ext,cyrillic-ext,devanagari,vietnamese}-wght-normal.woff2',
      '/node_modules/@fontsource-variable/noto-sans-{hebrew,arabic,thai,symbols}/files/*-{hebrew,arabic,thai,symbols}-wght-normal.woff2',
      '/node_modules/@fontsource-variable/noto-emoji/files/*-wght-normal.woff2',
      '/node_modules/@fontsource/noto-sans-symbols-2/files/*-symbols-400-normal.woff2',
      '/node_modules/@fontsource/noto-sans-math/files/*-latin-400-normal.woff2',
    ],
    { query: '?url', import: 'default', eager: true },
  ),
)

const MOST_SIDE = 16_000

const TYPES = { png: 'image/png', jpg: 'image/jpeg', webp: 'image/webp' } as const

/** The scene as pixels, exactly as large as asked, drawn by the browser with the shipped fonts inside; of a quality from 0 to 1. @throws Error in words. */
export async function pixelBlob(
  workspace: string,
  scene: Scene,
  options: SvgOptions,
  format: keyof typeof TYPES = 'png',
  quality?: number,
): Promise<Blob> {
  const { width, height } = svgSize(scene, options)
  if (height > MOST_SIDE || width * height > 120_000_000)
    throw new Error(
      `At ${width} px this picture would be ${height} px high, more than can be drawn. Choose a smaller width.`,
    )
  const svg = toSvg(scene, {
    ...options,
    style: await styleFor(scene, options.caption),
    images: await imagesOf(workspace, scene),
  })
  const address = URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }))
  try {
    const image = new Image()
    image.src = address
    await image.decode()
    const canvas = document.createElement('canvas')
    canvas.width = width
    canvas.height = height
    const brush = canvas.getContext('2d')
    if (format === 'jpg' && brush) {
      brush.fillStyle = '#ffffff'
      brush.fillRect(0, 0, width, height)
    }
    brush?.drawImage(image, 0, 0, width, height)
    const type = TYPES[format]
    const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, type, quality))
    // A browser that does not write a format answers with another one.
    if (blob && blob.type !== type) throw new Error('This browser does not write that format. Choose PNG.')
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

/** Letters of a picture that none of our fonts has. */
export async function missingIn(scene: Scene, caption = ''): Promise<readonly string[]> {
  const square = await squareFor(lettersIn(scene) + caption)
  return facesIn(scene, caption, square?.faces).missing
}

/** An image is drawn apart from the page, so it has to bring its fonts along: those that it is set in. */
export async function styleFor(scene: Scene, caption = ''): Promise<string> {
  const square = await squareFor(lettersIn(scene) + caption)
  const { faces } = facesIn(scene, caption, square?.faces)
  const rules = faces.map(async (face) => {
    const address = FACE_FILES.get(face.file) ?? square?.files.get(face.file)
    if (address === undefined) throw new Error(`There is no font ${face.file}.`)
    return faceRule(face, await dataUrl(await (await fetch(address)).blob()))
  })
  return (await Promise.all(rules)).join('')
}

export const dataUrl = (blob: Blob): Promise<string> =>
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
