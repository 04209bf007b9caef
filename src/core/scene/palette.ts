import { clampChroma, formatHex, modeLrgb, modeOklab, modeOklch, modeRgb, useMode as withMode } from 'culori/fn'
import type { Theme } from './theme'

// Only the colour spaces that are needed come along.
for (const mode of [modeRgb, modeLrgb, modeOklab, modeOklch]) withMode(mode)

// Categories climb a ladder of lightness, in an order that keeps neighbours far apart: they differ in grey print too.
const LADDER = [0.5, 0.72, 0.38, 0.8, 0.58, 0.3, 0.66, 0.44]

const GROUND = {
  sheet: '#ffffff',
  plate: '#fbfaf6',
  head: '#f1eee6',
  ink: '#1c2530',
  'ink-quiet': '#5a6472',
  line: '#7d8590',
  outline: '#b4aea0',
  hairline: '#d8d4c9',
  warning: '#8a5c06',
  error: '#a8322a',
  action: '#12565e',
  wash: '#e6eeec',
}

/** The themes of the program. They differ by the hues of their categories, in degrees of OKLCH, and by chroma. */
export const computeThemes = (): readonly Theme[] => [
  makeTheme('shoreline', 'Shoreline', [205, 75, 285, 125, 25, 240, 50, 165], 0.085),
  makeTheme('heather', 'Heather', [320, 145, 265, 95, 10, 200, 60, 290], 0.075),
  makeTheme('rust', 'Rust and slate', [40, 230, 20, 80, 255, 350, 60, 210], 0.09),
  makeTheme('moss', 'Moss', [140, 90, 180, 60, 115, 220, 40, 160], 0.08),
  makeTheme('regatta', 'Regatta', [260, 30, 160, 85, 310, 220, 110, 0], 0.13),
  makeTheme('graphite', 'Graphite', [250, 250, 250, 250, 250, 250, 250, 250], 0.006),
]

function makeTheme(id: string, title: string, hues: readonly number[], chroma: number): Theme {
  const colours: Record<string, string> = { ...GROUND, 'edge-0': '#8b929b', 'fill-0': '#f1f1ef' }
  // Bars of a plan: three steps of lightness of the theme's first hue, far enough apart for grey print.
  const [first = 0] = hues
  colours['bar'] = hex(0.82, chroma * 0.45, first)
  colours['bar-strong'] = hex(0.6, chroma * 0.8, first)
  colours['bar-done'] = hex(0.32, chroma * 0.6, first)
  LADDER.forEach((lightness, index) => {
    const hue = hues[index] ?? 0
    colours[`edge-${index + 1}`] = hex(lightness, chroma, hue)
    colours[`fill-${index + 1}`] = hex(0.955, chroma * 0.22, hue)
  })
  return { id, title, colours }
}

function hex(l: number, c: number, h: number): string {
  return formatHex(clampChroma({ mode: 'oklch', l, c, h }, 'oklch'))
}
