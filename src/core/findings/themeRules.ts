import {
  AS_GIVEN,
  grouped,
  setStep,
  wordsOfTheme,
  type Change,
  type Id,
  type Model,
  type ThemeSpec,
  type Tone,
  type View,
} from '../model'
import { COMMON, fixAs, strengthOf, thresholdOf, type Fix, type Found, type Rule } from '../notation'
import {
  LEAST,
  mendedIn,
  mostBehind,
  SIGHT_WORDS,
  themeFor,
  themesOf,
  TOLD_APART,
  toldApart,
  twinsIn,
  type Apart,
  type Twins,
} from '../scene'

export const inView = ({ title }: View): string => `“${title}”`

export const setLook = (id: Id, path: string, value: string | boolean | number | null) =>
  setStep('view', id, `look.${path}`, value)

/** A theme of one’s own in a tone, and the views that are drawn in it. */
interface Used {
  readonly spec: ThemeSpec
  readonly tone: Tone
  readonly views: readonly View[]
}

/** The themes of one’s own that views are drawn in: what is to be said of one is said once, however many views there are. O(views) */
function usedThemes(model: Model): readonly Used[] {
  const own = new Map(themesOf(model.settings).flatMap((spec) => (spec.colours.length > 0 ? [[spec.id, spec]] : [])))
  const drawnIn = grouped([...model.views.values()], ({ look }) => themeFor(model.settings, look))
  return [...drawnIn].flatMap(([{ id, tone }, views]) => {
    const spec = own.get(id)
    return spec ? [{ spec, tone, views }] : []
  })
}

const inViews = ({ views }: Used): string => {
  const [first] = views
  return views.length === 1 && first ? inView(first) : `${views.length.toLocaleString('en')} views`
}

const setTheme = ({ id, title }: ThemeSpec, what: string, words: readonly string[]): Change => ({
  label: `Theme “${title}” ${what}`,
  steps: [{ do: 'set-workspace', path: `themes.${id}`, value: words }],
})

const wordsBut = (model: Model, { id }: ThemeSpec): readonly string[] =>
  (model.settings.themes?.[id] ?? []).filter((word) => word !== AS_GIVEN)

/** Draws the house colours so that they can be told: as near to what was given as that lets them. */
const mending = (model: Model, spec: ThemeSpec): Fix => ({
  label: 'Mend its colours',
  change: setTheme(spec, 'with its colours mended', wordsBut(model, spec)),
})

/** A picture behind a view that may leave too little contrast to what is written on it. */
function tooStrong(model: Model, view: View): Found | undefined {
  if (view.look['ground'] !== 'picture') return undefined
  const most = mostBehind(themeFor(model.settings, view.look))
  const now = Math.round(strengthOf(view) * 100)
  if (now <= most) return undefined
  return {
    message: `The picture behind ${inView(view)} shows at ${now} %: where it is darkest or palest, texts have less than ${LEAST.text} to 1 above ${most} %.`,
    subjects: [view.id],
    about: 'behind',
    fixes: [
      fixAs(`Let it show at ${most} %`, `${inView(view)}: its ground at ${most} %`, setLook(view.id, 'strength', most)),
    ],
  }
}

export const contrast: Rule = {
  id: 'look/contrast',
  severity: 'warning',
  title: 'Stands out too little',
  why: 'A line or an edge that is hardly darker than what it lies on is not seen by everybody, nor on every screen.',
  source: 'WCAG 2.2, success criterion 1.4.11: 3 to 1 for what is needed to understand a graphic',
  check: (model) => [
    ...[...model.views.values()].flatMap((view) => tooStrong(model, view) ?? []),
    ...usedThemes(model).flatMap((used): readonly Found[] => {
      const { spec, tone, views } = used
      if (spec.isAsGiven !== true) return []
      return mendedIn(spec, tone).map((one) => ({
        message: `${one.given} of “${spec.title}” is ${one.contrast.toFixed(1)} to 1 on the sheet of ${inViews(used)}; ${one.least} to 1 is the least.`,
        subjects: views.map(({ id }) => id),
        about: one.given.slice(1),
        fixes: [mending(model, spec)],
      }))
    }),
  ],
}

export const moved: Rule = {
  id: 'look/moved-colour',
  severity: 'note',
  title: 'A house colour is moved',
  why: 'A colour that would not stand out from the sheet is drawn as the nearest that does: whoever knows the house sees that it is another.',
  source: 'WCAG 2.2, success criterion 1.4.11: 3 to 1 for what is needed to understand a graphic',
  check: (model) =>
    usedThemes(model).flatMap((used): readonly Found[] => {
      const { spec, tone, views } = used
      if (spec.isAsGiven === true) return []
      return mendedIn(spec, tone).map(({ given, contrast, least, drawn }) => ({
        message: `${given} of “${spec.title}” is drawn as ${drawn} in ${inViews(used)}: it is ${contrast.toFixed(1)} to 1 on the sheet, and ${least} to 1 is the least.`,
        subjects: views.map(({ id }) => id),
        about: given.slice(1),
        fixes: [
          {
            label: `Take ${drawn} for ${given}`,
            change: setTheme(
              spec,
              `with ${drawn} for ${given}`,
              wordsBut(model, spec).map((word) => (word === given ? drawn : word)),
            ),
          },
          {
            label: 'Draw it as given',
            change: setTheme(spec, 'with its colours as given', wordsOfTheme({ ...spec, isAsGiven: true })),
          },
        ],
      }))
    }),
}

/** How far apart house colours have to be, by the limits of a workspace. */
const apartIn = (model: Model) => ({ grey: thresholdOf(model, greyTwins), sight: thresholdOf(model, sightTwins) })

/** Makes the colours of a theme such that everybody tells them apart, and says which they are then. */
function settingApart(model: Model, spec: ThemeSpec, tone: Tone): readonly Fix[] {
  const told = toldApart(spec, tone, apartIn(model))
  if (!told) return []
  const changed = told.flatMap((one, at) => (one === spec.colours[at] ? [] : `${one} for ${spec.colours[at]}`))
  const label = `Take ${changed.join(', ')}`
  return [{ label, change: setTheme(spec, 'with its colours apart', wordsOfTheme({ ...spec, colours: told })) }]
}

/** House colours that are nearer to each other than is asked, each pair in words of its own. */
const alike = (
  model: Model,
  apart: Apart,
  said: (twins: Twins, used: Used) => Pick<Found, 'message' | 'about'>,
): readonly Found[] =>
  usedThemes(model).flatMap((used) => {
    const twins = twinsIn(used.spec, used.tone, apart)
    const fixes = twins.length === 0 ? [] : settingApart(model, used.spec, used.tone)
    return twins.map((one) => ({ ...said(one, used), subjects: used.views.map(({ id }) => id), fixes }))
  })

export const greyTwins: Rule = {
  id: 'look/grey-twins',
  severity: 'warning',
  title: 'Alike in grey',
  why: 'Printed without colours, two categories that are as light as each other cannot be told apart.',
  source: COMMON,
  threshold: { initial: TOLD_APART.grey, label: 'Lightness between two categories in grey, of 100' },
  check: (model) => {
    const { grey } = apartIn(model)
    return alike(model, { grey, sight: 0 }, ({ one, other, apart }, used) => ({
      message: `${one} and ${other} of “${used.spec.title}” differ by ${apart.toFixed(1)} of 100 in grey, in ${inViews(used)}; ${grey} is the least.`,
      about: `${one.slice(1)}-${other.slice(1)}`,
    }))
  },
}

export const sightTwins: Rule = {
  id: 'look/sight-twins',
  severity: 'warning',
  title: 'Alike to some eyes',
  why: 'One man in twelve does not tell red from green as others do: what only such colours tell he is not told.',
  source: 'Machado, Oliveira & Fernandes 2009 for what is seen; CIE 142-2001 (CIEDE2000) for how far apart it is',
  threshold: { initial: TOLD_APART.sight, label: 'Difference of two house colours to everybody, by CIEDE2000' },
  check: (model) => {
    const { sight: least } = apartIn(model)
    return alike(model, { grey: 0, sight: least }, ({ one, other, apart, sight }, used) => ({
      message: `${one} and ${other} of “${used.spec.title}” are hardly told apart ${SIGHT_WORDS[sight]} (${sight}), in ${inViews(used)}: they differ by ${apart.toFixed(1)}, and ${least} is the least.`,
      about: `${sight}-${one.slice(1)}-${other.slice(1)}`,
    }))
  },
}
