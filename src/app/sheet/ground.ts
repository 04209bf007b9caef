import type { CSSProperties } from 'react'
import type { View } from '../../core/model'
import { colourOf, themeFor, type Sight, type Theme } from '../../core/scene'
import { sightFilter } from '../shell/sights'
import { useWorkspace } from '../store/state'

/** What a view is drawn in; the same object as long as that stays the same. */
export const useTheme = (view: View | undefined): Theme =>
  useWorkspace(({ model }) => themeFor(model.settings, view?.look ?? {}))

/** What lies around and over a picture on the sheet takes the theme’s colours, too. */
export const groundOf = (theme: Theme, proof: Sight | undefined): CSSProperties =>
  ({
    ...(proof ? { '--sight': sightFilter(proof) } : {}),
    '--sheet-ground': colourOf(theme, 'sheet'),
    '--sheet-beside': theme.tone === 'dark' ? colourOf(theme, 'hairline') : '#edeae0',
    '--sheet-edge': colourOf(theme, 'hairline'),
    '--sheet-ink': colourOf(theme, 'ink'),
    '--sheet-quiet': colourOf(theme, 'ink-quiet'),
    '--sheet-mark': colourOf(theme, 'action'),
    colorScheme: theme.tone === 'dark' ? 'dark' : 'light',
  }) as CSSProperties
