import { setStep, type Day, type Entity, type Model, type View } from '../model'
import {
  COMMON,
  fieldsOfKind,
  fixAs,
  judging,
  rulesOf,
  thresholdOf,
  type Fix,
  type Found,
  type Kind,
  type Rule,
} from '../notation'
import {
  layersOf,
  leastPoints,
  paperOf,
  POINTS,
  READ_WELL,
  smallestText,
  themeFor,
  type Mark,
  type Scene,
} from '../scene'
import { contrast, greyTwins, inView, moved, setLook, sightTwins } from './themeRules'

/** Draws a view; undefined for one that nobody can draw. */
export type Drawing = (model: Model, view: View, day: Day) => Scene | undefined

interface Seeing {
  readonly drawn: Drawing
  /** Whether the picture of a view can set its things further apart. */
  readonly spaced: (view: View) => boolean
  readonly kinds: ReadonlyMap<string, Kind>
}

/** Rules about how views look, whatever they show. O(views), and what it costs to draw those that are on a paper */
export function lookRules({ drawn, spaced, kinds }: Seeing): readonly Rule[] {
  const printed = printing(drawn)
  return [
    contrast,
    moved,
    greyTwins,
    sightTwins,
    darkGround,
    colourOnly,
    tooSmall(printed),
    overflow(printed, spaced),
    altMissing(kinds),
  ]
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

/** Facts of more than these are not drawn for a rule: it would take longer than anybody waits for a finding. */
const MOST_FACTS = 8000

/** Views that are on a paper, as they are drawn on a day; drawn once for all rules. */
function printing(
  drawn: Drawing,
): (model: Model, day: Day) => readonly { readonly view: View; readonly scene: Scene }[] {
  const known = new WeakMap<Model, { readonly day: Day; readonly shown: readonly { view: View; scene: Scene }[] }>()
  return (model, day) => {
    const before = known.get(model)
    if (before?.day === day) return before.shown
    const isLarge = model.entities.size + model.relations.size > MOST_FACTS
    const shown = [...model.views.values()].flatMap((view) => {
      const scene = isLarge || !paperOf(view.look) || !isPrinted(view) ? undefined : drawn(model, view, day)
      return scene?.paper ? [{ view, scene }] : []
    })
    known.set(model, { day, shown })
    return shown
  }
}

type Printing = ReturnType<typeof printing>

/** The next larger of the usual papers; undefined for the largest, and for what is none of them. */
const LARGER: Readonly<Record<string, string>> = { A5: 'A4', A4: 'A3', A3: 'A2', Letter: 'A3' }

/** A larger paper, and the same turned where it is broader than high, or the other way. */
function roomier(view: View, { bounds, picture = bounds }: Scene): readonly Fix[] {
  const larger = LARGER[String(view.look['paper'])]
  const isAcross = view.look['across'] === true
  const wantsAcross = picture.width > picture.height
  return [
    ...(wantsAcross === isAcross || (larger === undefined && view.look['paper'] !== 'A2')
      ? []
      : [
          fixAs(
            wantsAcross ? 'Turn the paper across' : 'Turn the paper upright',
            `${inView(view)} ${wantsAcross ? 'across' : 'upright'}`,
            setLook(view.id, 'across', wantsAcross ? true : null),
          ),
        ]),
    ...(larger === undefined
      ? []
      : [fixAs(`Draw it on ${larger}`, `${inView(view)} on ${larger}`, setLook(view.id, 'paper', larger))]),
    fixAs('Take the paper away', `${inView(view)} on no paper`, setLook(view.id, 'paper', null)),
  ]
}

/** Figures have a rule of their own, that knows their ranks: of them this one speaks only where what stands around them is too small. */
const isMeasuredByItself = ({ notation }: View, scene: Scene, least: number): boolean =>
  notation === 'figure' && smallestText({ ...scene, backdrop: [] }) * POINTS < least

const tooSmall = (printed: Printing): Rule => {
  const rule: Rule = {
    id: 'look/too-small',
    severity: 'warning',
    title: 'Too small on its paper',
    why: 'What is printed smaller than this is not read without a glass.',
    source: COMMON,
    threshold: { initial: READ_WELL, label: 'Smallest text on paper, in points' },
    check: (model, day) =>
      printed(model, day).flatMap(({ view, scene }): Found[] => {
        const least = thresholdOf(model, rule)
        const points = leastPoints(scene)
        return points === undefined || points >= least || isMeasuredByItself(view, scene, least)
          ? []
          : [
              {
                message: `The smallest text of ${inView(view)} is ${points.toFixed(1)} pt on ${scene.paper?.title ?? 'its paper'}; ${least} pt is the least.`,
                subjects: [view.id],
                fixes: roomier(view, scene),
              },
            ]
      }),
  }
  return rule
}

/** So many cut texts are quoted. */
const MOST_QUOTED = 3

const overflow = (printed: Printing, spaced: Seeing['spaced']): Rule => ({
  id: 'look/overflow',
  severity: 'note',
  title: 'Texts are cut',
  why: 'On paper nobody can point at a text to see the rest of it.',
  source: COMMON,
  check: (model, day) =>
    printed(model, day).flatMap(({ view, scene }): Found[] => {
      const names = new Set([...model.entities.values()].map(({ name }) => name))
      const cut = [
        ...new Set(textsOf(scene).filter((words) => words.endsWith('…') && words.length > 1 && !names.has(words))),
      ]
      if (cut.length === 0) return []
      const quoted = cut
        .slice(0, MOST_QUOTED)
        .map((words) => `“${words}”`)
        .join(', ')
      const room = view.options['room']
      return [
        {
          message: `${cut.length} ${cut.length === 1 ? 'text' : 'texts'} of ${inView(view)} ${cut.length === 1 ? 'does' : 'do'} not fit and ${cut.length === 1 ? 'is' : 'are'} cut: ${quoted}.`,
          subjects: [view.id],
          fixes: [
            ...(spaced(view) && (room === undefined || room === 'tight')
              ? [fixAs('Set it airy', `${inView(view)} airy`, setStep('view', view.id, 'options.room', 'airy'))]
              : []),
            ...roomier(view, scene),
          ],
        },
      ]
    }),
})

function textsOf(scene: Scene): readonly string[] {
  const said: string[] = []
  const look = (mark: Mark): void => {
    if (mark.tag === 'text') said.push(mark.children[0])
    else if (mark.tag === 'g') mark.children.forEach(look)
  }
  for (const { marks } of layersOf(scene)) marks.forEach(look)
  return said
}

const colourOnly: Rule = {
  id: 'look/colour-only',
  severity: 'warning',
  title: 'Told by colour alone',
  why: 'Printed in grey, or by somebody who sees colours otherwise, what only a colour says is not seen.',
  source: 'WCAG 2.2, success criterion 1.4.1: colour is not the only means of conveying information',
  check: (model) =>
    [...model.views.values()].flatMap((view): Found[] => {
      const { look } = view
      const rules = rulesOf(view)
      const chosen = Object.entries(look).flatMap(([key, value]) =>
        key.startsWith('emphasis ') && Array.isArray(value) ? (value as readonly string[]) : [],
      )
      const isColoured =
        rules.some((rule) => /^\s*(?:colou?r\s+by|category\s)/i.test(rule)) ||
        chosen.some((word) => word.startsWith('category'))
      const isPaper = paperOf(look) !== undefined && isPrinted(view)
      if (!isColoured || look['letters'] === true || !isPaper) return []
      return [
        {
          message: `In ${inView(view)}, which is drawn for paper, categories differ by their colours alone.`,
          subjects: [view.id],
          fixes: [
            fixAs('Write letters beside the colours', `Letters in ${inView(view)}`, setLook(view.id, 'letters', true)),
          ],
        },
      ]
    }),
}

/** The paths at which facts hold pictures. */
const imagesOf = (kinds: ReadonlyMap<string, Kind>): readonly string[] => [
  ...new Set(
    [...kinds.values()].flatMap((kind) =>
      fieldsOfKind(kind).flatMap(({ id, type }) => (type === 'image' ? `fields.${id}` : [])),
    ),
  ),
]

/** Pictures that facts hold: people see them, and whoever does not is told nothing. */
const altMissing = (kinds: ReadonlyMap<string, Kind>): Rule =>
  judging<Entity>(
    {
      id: 'look/alt-missing',
      severity: 'note',
      title: 'A picture without words',
      why: 'Who does not see a picture is told its alternative text; without one it is as if nothing were there.',
      source: 'WCAG 2.2, success criterion 1.1.1: non-text content has a text alternative',
      reads: { facts: { '*': ['fields.alt', ...imagesOf(kinds)] }, names: ['*'] },
    },
    (model) => model.entities.values(),
    (_model, { id, kind, name, fields }) => {
      const known = kinds.get(kind)
      const images = (known ? fieldsOfKind(known) : []).filter(
        ({ id: field, type }) => type === 'image' && fields[field] !== undefined,
      )
      // A portrait is told by the name beside it.
      if (images.length === 0 || fields['alt'] !== undefined || kind === 'person') return []
      return [
        {
          message: `The picture of “${name}” has no words that say what it shows.`,
          subjects: [id],
          fixes: [
            fixAs('Let its name say it', `Alternative text of “${name}”`, setStep('entity', id, 'fields.alt', name)),
          ],
        },
      ]
    },
  )
