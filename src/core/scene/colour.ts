import {
  clampChroma,
  converter,
  formatHex,
  modeLrgb,
  modeOklab,
  modeOklch,
  modeRgb,
  useMode as withMode,
  wcagContrast,
  wcagLuminance,
} from 'culori/fn'

// Only the colour spaces that are needed come along.
for (const mode of [modeRgb, modeLrgb, modeOklab, modeOklch]) withMode(mode)
export const toOklch = converter('oklch')
const toRgb = converter('rgb')

/** Contrast of text (WCAG 2.2, 1.4.3) and of what is needed to understand a graphic (1.4.11). */
export const LEAST = { text: 4.5, graphic: 3 } as const
/** Lightness in OKLCH, chroma, and hue in degrees. */
export type Colour = readonly [lightness: number, chroma: number, hue: number]

export const hex = ([l, c, h]: Colour): string => formatHex(clampChroma({ mode: 'oklch', l, c, h }, 'oklch'))

/** A colour as #rrggbb; undefined for what is none. */
export const readColour = (text: string): string | undefined => {
  const words = text.trim()
  return /^#(?:[0-9a-f]{3}|[0-9a-f]{6})$/i.test(words) ? formatHex(words) : undefined
}

/** Lightness of a colour printed in grey: L* of CIE 1976, 0 to 100, from its relative luminance. */
export function lightnessOf(colour: string): number {
  const y = wcagLuminance(colour)
  return y > 216 / 24389 ? 116 * Math.cbrt(y) - 16 : (y * 24389) / 27
}

/** The colour of a hue that is as light as asked when it is printed in grey. */
export function ofLightness(wanted: number, chroma: number, hue: number): string {
  let [low, high] = [0, 1]
  for (let step = 0; step < 14; step++) {
    const middle = (low + high) / 2
    if (lightnessOf(hex([middle, chroma, hue])) < wanted) low = middle
    else high = middle
  }
  return hex([high, chroma, hue])
}

/** A colour, darker or lighter until it stands out from all of some grounds as much as asked; itself where it does. */
export function cleared(colour: string, grounds: readonly (string | undefined)[], least: number): string {
  const { l, c, h = 0 } = toOklch(colour) ?? { l: 0, c: 0 }
  const behind = grounds.flatMap((one) => one ?? [])
  const isDark = behind.some((one) => (toOklch(one)?.l ?? 1) < 0.5)
  for (let step = 0; step <= 100; step++) {
    const next = hex([isDark ? Math.min(1, l + step / 100) : Math.max(0, l - step / 100), c, h])
    if (behind.every((one) => wcagContrast(next, one) >= least)) return step === 0 ? colour : next
  }
  return isDark ? '#ffffff' : '#000000'
}

/** One colour over another that lets so much of it through, as painters mix them. */
export function blended(under: string, over: string, share: number): string {
  const [a, b] = [toRgb(under), toRgb(over)]
  const mix = (from = 0, to = 0) => from + (to - from) * share
  return formatHex({ mode: 'rgb', r: mix(a?.r, b?.r), g: mix(a?.g, b?.g), b: mix(a?.b, b?.b) })
}
