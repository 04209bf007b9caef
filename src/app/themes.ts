import { readThemeFile, writeTheme } from '../core/file'
import {
  parseJson,
  readTheme,
  wordsOf,
  wordsOfTheme,
  type Step,
  type ThemeSpec,
  type Tone,
  type View,
} from '../core/model'
import { setView } from '../core/notation'
import { themeFor } from '../core/scene'
import { make } from './store/changes'
import { newId, notify, useWorkspace } from './store/state'

export const TONE_WORDS: Readonly<Record<Tone, string>> = {
  light: 'Light',
  tinted: 'Tinted paper',
  dark: 'Dark screen',
  strong: 'Strong contrast',
  grey: 'Grey print',
}

/** For what a theme is chosen. */
export type Reach = 'view' | 'workspace'

const setWorkspace = (path: string, value: string | readonly string[] | null): Step => ({
  do: 'set-workspace',
  path,
  value,
})
const setLook = ({ id }: View, path: string, value: string | null): Step => setView(id, `look.${path}`, value)
/** What a view says of its own is taken back where all of the workspace is to look another way. */
const clearing = (view: View, paths: readonly string[]): readonly Step[] =>
  paths.flatMap((path) => (view.look[path] === undefined ? [] : [setLook(view, path, null)]))

interface Wanted {
  readonly theme?: ThemeSpec
  readonly tone?: Tone
}

/** Takes a theme, a tone or both, for a view or for all of the workspace; nothing where all of it is so already. */
export function dress(view: View, reach: Reach, wanted: Wanted): void {
  const steps = dressing(view, reach, wanted)
  const words = [wanted.theme?.title, wanted.tone && TONE_WORDS[wanted.tone].toLowerCase()].filter(Boolean).join(', ')
  if (steps.length > 0)
    make({ label: `Theme of ${reach === 'view' ? `“${view.title}”` : 'the workspace'}: ${words}`, steps })
}

function dressing(view: View, reach: Reach, { theme, tone }: Wanted): readonly Step[] {
  const { look = {} } = useWorkspace.getState().model.settings
  return Object.entries({ theme: theme?.id, tone }).flatMap(([path, value]): Step[] => {
    if (value === undefined) return []
    if (reach === 'view') return view.look[path] === value ? [] : [setLook(view, path, value)]
    return [...(look[path] === value ? [] : [setWorkspace(`look.${path}`, value)]), ...clearing(view, [path])]
  })
}

/** The view looks as the workspace does. */
export const followWorkspace = (view: View): void => {
  make({ label: `“${view.title}” as the workspace`, steps: [...clearing(view, ['theme', 'tone'])] })
}

/** What a view is drawn in, and whether it says so itself. */
export function dressOf(view: View): { readonly theme: string; readonly tone: Tone; readonly isOwn: boolean } {
  const { id, tone } = themeFor(useWorkspace.getState().model.settings, view.look)
  return {
    theme: id,
    tone,
    isOwn: view.look['theme'] !== undefined || view.look['tone'] !== undefined,
  }
}

/** Keeps a theme of one’s own with the workspace and takes it, as one change; a new one has no id yet. Answers whether it is one. */
export function keepTheme(spec: ThemeSpec, view: View, reach: Reach): boolean {
  const id = spec.id === '' ? newId() : spec.id
  const words = wordsOfTheme(spec)
  if (!readTheme(id, words)) {
    notify('A theme has a title of 60 characters at most, and one to three colours.', 'refusal')
    return false
  }
  const steps = [setWorkspace(`themes.${id}`, words), ...dressing(view, reach, { theme: { ...spec, id } })]
  return make({ label: `Theme “${spec.title}”`, steps })
}

/** What is drawn in it is drawn in the usual one then. */
export const removeTheme = ({ id, title }: ThemeSpec): void => {
  make({ label: `Remove the theme “${title}”`, steps: [setWorkspace(`themes.${id}`, null)] })
}

export const themeFileOf = (spec: ThemeSpec): Blob =>
  new Blob([`${JSON.stringify(writeTheme(spec), null, 2)}\n`], { type: 'application/json' })

const MOST_BYTES = 20_000

/** Reads a theme that was handed on, keeps it and takes it; why it is not taken is said in words. */
export async function bringTheme(file: File, view: View, reach: Reach): Promise<void> {
  try {
    if (file.size > MOST_BYTES) throw new RangeError(`“${file.name}” is too large for a theme.`)
    keepTheme({ ...readThemeFile(parseJson(await file.text())), id: '' }, view, reach)
  } catch (error) {
    notify(error instanceof SyntaxError ? `“${file.name}” is no JSON.` : wordsOf(error), 'refusal')
  }
}
