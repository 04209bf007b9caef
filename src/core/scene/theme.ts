import type { Face } from './mark'
import type { Role } from './roles'
import computed from './themes.json' with { type: 'json' }

/** Colours by role. */
export interface Theme {
  readonly id: string
  readonly title: string
  readonly colours: Readonly<Record<string, string>>
}

/** The families a drawing names, in the order in which they are tried. Latin first, then the shipped fallback. */
export const FONTS: Readonly<Record<Face, string>> = {
  text: "'Atkinson Hyperlegible Next', 'Atkinson Hyperlegible Next Variable', 'Noto Sans', 'Noto Sans Variable', sans-serif",
  mono: "'Atkinson Hyperlegible Mono', 'Atkinson Hyperlegible Mono Variable', 'Noto Sans', 'Noto Sans Variable', monospace",
}

/** As `scripts/themes.ts` computes them. */
export const themes: readonly Theme[] = computed

export const themeOf = (id: unknown): Theme => themes.find((theme) => theme.id === id) ?? (themes[0] as Theme)

/** @throws RangeError for a role that the theme does not know: a drawing must not invent colours. */
export function colourOf(theme: Theme, role: Role): string {
  if (role === 'none') return role
  const colour = theme.colours[role]
  if (colour === undefined) throw new RangeError(`theme “${theme.id}” has no colour for “${role}”`)
  return colour
}
