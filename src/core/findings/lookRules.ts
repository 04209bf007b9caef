import { AS_GIVEN, setStep, type Change, type Id, type Model, type View } from '../model'
import { COMMON, fixAs, thresholdOf, type Fix, type Found, type Rule } from '../notation'
import { LEAST, lightnessOf, mendedIn, paperOf, themeFor, themesOf } from '../scene'

/** Rules about how views look, whatever they show. O(views) */
export const lookRules = (): readonly Rule[] => [contrast, greyTwins, darkGround]

const inView = ({ title }: View): string => `“${title}”`

/** The theme of one’s own that a view is drawn in with its colours as they are given; undefined for any other. */
function givenFor(model: Model, view: View) {
  const theme = themeFor(model.settings, view.look)
  const spec = themesOf(model.settings).find(({ id }) => id === theme.id)
  return spec?.isAsGiven === true && theme.tone !== 'grey' ? { theme, spec } : undefined
}

/** Draws the house colours so that they can be told: as near to what was given as that lets them. */
function mending(model: Model, id: string, title: string): Fix {
  const words = (model.settings.themes?.[id] ?? []).filter((word) => word !== AS_GIVEN)
  const change: Change = {
    label: `Theme “${title}” with its colours mended`,
    steps: [{ do: 'set-workspace', path: `themes.${id}`, value: words }],
  }
  return { label: 'Mend its colours', change }
}

const contrast: Rule = {
  id: 'look/contrast',
  severity: 'warning',
  title: 'Stands out too little',
  why: 'A line or an edge that is hardly darker than what it lies on is not seen by everybody, nor on every screen.',
  source: 'WCAG 2.2, success criterion 1.4.11: 3 to 1 for what is needed to understand a graphic',
  check: (model) =>
    [...model.views.values()].flatMap((view): Found[] => {
      const given = givenFor(model, view)
      return (given ? mendedIn(given.spec, given.theme.tone) : []).map((one) => ({
        message: `${one.given} of “${given?.spec.title}” is ${one.contrast.toFixed(1)} to 1 on the sheet of ${inView(view)}; ${LEAST.graphic} to 1 is the least.`,
        subjects: [view.id],
        about: one.given.slice(1),
        fixes: given ? [mending(model, given.spec.id, given.spec.title)] : [],
      }))
    }),
}

const greyTwins: Rule = {
  id: 'look/grey-twins',
  severity: 'warning',
  title: 'Alike in grey',
  why: 'Printed without colours, two categories that are as light as each other cannot be told apart.',
  source: COMMON,
  threshold: { initial: 3.5, label: 'Lightness between two categories in grey, of 100' },
  check: (model) =>
    [...model.views.values()].flatMap((view): Found[] => {
      const given = givenFor(model, view)
      if (!given) return []
      const { colours, id, title } = given.spec
      const least = thresholdOf(model, greyTwins)
      return colours.flatMap((one, at) =>
        colours.slice(at + 1).flatMap((other): Found[] => {
          const apart = Math.abs(lightnessOf(one) - lightnessOf(other))
          return apart >= least
            ? []
            : [
                {
                  message: `${one} and ${other} of “${title}” differ by ${apart.toFixed(1)} of 100 in grey, in ${inView(view)}; ${least} is the least.`,
                  subjects: [view.id],
                  about: `${one.slice(1)}-${other.slice(1)}`,
                  fixes: [mending(model, id, title)],
                },
              ]
        }),
      )
    }),
}

const darkGround: Rule = {
  id: 'look/dark-ground',
  severity: 'note',
  title: 'A dark ground on paper',
  why: 'A dark ground is made for screens: printed it takes much ink, and pale lines on it fill up.',
  source: COMMON,
  check: (model) =>
    [...model.views.values()].flatMap((view): Found[] => {
      const paper = paperOf(view.look)
      if (!paper || !isPrinted(view) || themeFor(model.settings, view.look).tone !== 'dark') return []
      return [
        {
          message: `${inView(view)} is drawn for a dark screen, on ${paper.title}.`,
          subjects: [view.id],
          fixes: [
            fixAs('Draw it light', `${inView(view)} light`, setLook(view.id, 'tone', 'light')),
            fixAs('Take the paper away', `${inView(view)} on no paper`, setLook(view.id, 'paper', null)),
          ],
        },
      ]
    }),
}

/** The shapes of screens are papers that nobody prints on, and so are sizes in px. */
const isPrinted = ({ look }: View): boolean => !/^\d+:\d+$|px$/i.test(String(look['paper']).trim())

const setLook = (id: Id, path: string, value: string | null) => setStep('view', id, `look.${path}`, value)
