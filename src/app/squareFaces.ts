import korean from '@fontsource-variable/noto-sans-kr/unicode.json'
import chinese from '@fontsource-variable/noto-sans-sc/unicode.json'
import { squareFaces } from '../core/scene/faces'
import { byName } from './fontFiles'

/** Where the files of the faces are, by their names. */
export const files = byName(
  import.meta.glob<string>('/node_modules/@fontsource-variable/noto-sans-{sc,kr}/files/*-wght-normal.woff2', {
    query: '?url',
    import: 'default',
    eager: true,
  }),
)

export const faces = [...squareFaces('noto-sans-sc', chinese), ...squareFaces('noto-sans-kr', korean)]

/** Tells the page of each: it fetches those whose letters are to be seen. */
export function showSquare(): void {
  for (const { file, ranges } of faces)
    document.fonts.add(
      new FontFace('Noto Sans Variable', `url(${files.get(file) ?? ''}) format('woff2')`, {
        weight: '100 900',
        unicodeRange: ranges,
      }),
    )
}
