import { grouped } from '../../core/model'
import { clip } from '../../core/notation'
import type { MissingLetter } from './fonts'

/** Formats that a picture is handed out in. */
export const FORMATS = ['svg', 'png', 'jpg', 'webp', 'pdf', 'html', 'docx', 'odt'] as const
export type Format = (typeof FORMATS)[number]

const MEDIA_TYPES: Readonly<Record<Format, string>> = {
  svg: 'image/svg+xml; charset=utf-8',
  png: 'image/png',
  jpg: 'image/jpeg',
  webp: 'image/webp',
  pdf: 'application/pdf',
  html: 'text/html; charset=utf-8',
  docx: 'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
  odt: 'application/vnd.oasis.opendocument.text',
}

/** So much is told of letters that no font has. */
const TOLD = { texts: 6, letters: 8 } as const

/** Which letters no font has, and where they stand: `シ フ in “シフト”`; nothing of none. */
export function missingInWords(missing: readonly MissingLetter[]): string {
  const byText = [...grouped(missing, ({ text }) => text)]
  const told = byText.slice(0, TOLD.texts).map(([text, letters]) => {
    const more = letters.length > TOLD.letters ? ' …' : ''
    const some = letters.slice(0, TOLD.letters).map(({ letter }) => letter)
    return `${some.join(' ')}${more} in “${clip(text)}”`
  })
  const left = byText.length - told.length
  return `${told.join(', ')}${left > 0 ? ` and in ${left.toLocaleString('en')} more` : ''}`
}

/** What is said of a file that is answered; which of its letters no font has, as a header may hold them. */
export const fileHeaders = (format: Format, missing: readonly MissingLetter[]): Record<string, string> => ({
  'content-type': MEDIA_TYPES[format],
  'cache-control': 'no-store',
  ...(missing.length > 0 ? { 'x-missing-letters': encodeURIComponent(missingInWords(missing)) } : {}),
})

/** What a picture is part of, with words and registers around it. */
export const TEXTS: ReadonlySet<Format> = new Set(['html', 'docx', 'odt'])

export const PNG_WIDTH = { least: 16, most: 12_000, pixels: 120_000_000 } as const

/** A picture too large to be drawn. */
export class PngSizeError extends Error {
  override readonly name = 'PngSizeError'
}

/** A wish that cannot be fulfilled, in words. */
export class DeliveryError extends Error {
  override readonly name = 'DeliveryError'
}
