import { converter, formatHex } from 'culori/fn'

const toOklch = converter('oklch')

const BINS = 24
const FULL = 360
/** Below this chroma a pixel is grey, and tells a house colour only where nothing else does. */
const GREY = 0.04
/** A colour stands for a house where it has this share of what the foremost has, and is so many bins away from the others. */
const SHARE = 0.06
const AWAY = 3
const MOST = 3

/**
 * One to three colours that stand for a picture, as #rrggbb, the foremost first: means of the hues that are strong and frequent. Pixels as red, green, blue and
 * opacity, 0 to 255; those that are seen through do not count. Nothing where nothing is seen. O(pixels)
 */
export function houseColours(pixels: ArrayLike<number>): readonly string[] {
  const bins = Array.from({ length: BINS }, () => ({ weight: 0, red: 0, green: 0, blue: 0 }))
  const greys = { weight: 0, red: 0, green: 0, blue: 0 }
  for (let at = 0; at + 3 < pixels.length; at += 4) {
    const [red = 0, green = 0, blue = 0, opacity = 0] = [pixels[at], pixels[at + 1], pixels[at + 2], pixels[at + 3]]
    if (opacity < 128) continue
    const { c, h = 0 } = toOklch({ mode: 'rgb', r: red / 255, g: green / 255, b: blue / 255 })
    // Of greys the dark ones count: paper is no colour.
    const isGrey = c < GREY
    const weight = isGrey ? 1 - (red + green + blue) / 765 : c
    const bin = isGrey ? greys : bins[Math.floor((h / FULL) * BINS) % BINS]
    if (!bin) continue
    bin.weight += weight
    bin.red += red * weight
    bin.green += green * weight
    bin.blue += blue * weight
  }
  const found: { readonly at: number; readonly weight: number }[] = []
  const order = bins.map(({ weight }, at) => ({ at, weight })).sort((a, b) => b.weight - a.weight)
  const foremost = order[0]?.weight ?? 0
  for (const one of order) {
    const isAway = found.every(({ at }) => Math.min(Math.abs(at - one.at), BINS - Math.abs(at - one.at)) >= AWAY)
    if (found.length < MOST && isAway && one.weight > 0 && one.weight >= foremost * SHARE) found.push(one)
  }
  const chosen = found.length > 0 ? found.flatMap(({ at }) => bins[at] ?? []) : greys.weight > 0 ? [greys] : []
  return chosen.map(({ weight, red, green, blue }) =>
    formatHex({ mode: 'rgb', r: red / weight / 255, g: green / weight / 255, b: blue / weight / 255 }),
  )
}
