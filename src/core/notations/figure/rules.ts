import type { Day, Id, Model, View } from '../../model'
import { COMMON, fix, reading, removal, setView, thresholdOf, type Found, type Rule } from '../../notation'
import { paperOf, POINTS, smallestText } from '../../scene'
import { UNNAMED } from './kinds'
import { mapRules } from './maps/rules'
import { mapOn } from './maps/structure'
import { pictures } from './pictures'
import { shownOf } from './pictures/draw'
import { impossibleIn, setsOf, type Sets } from './sets/regions'
import { linesOn } from './structure'

const figureViews = (model: Model): readonly View[] =>
  [...model.views.values()].filter(({ notation }) => notation === 'figure')
const inView = ({ title }: View): string => `“${title}”`
const gesturesOf = (view: View) => pictures.find(({ id }) => id === view.picture)

/** Sets whose numbers are looked at: those that a view draws as such. */
const OVERLAP = 'overlap'
const setCount = ({ sets, left }: Sets): number => sets.length + left

const tooMany: Rule = {
  id: 'fig/too-many',
  severity: 'note',
  title: 'More parts than the arrangement takes well',
  why: 'What is seen at a glance in a few parts has to be read part by part in many.',
  source: COMMON,
  check: (model, day) =>
    figureViews(model).flatMap((view): Found[] => {
      const { parts } = shownOf(linesOn(model, view, day), view, model, day)
      const picture = gesturesOf(view)
      const most = picture?.arranges?.takes[1] ?? Infinity
      const [first] = parts
      // Lines that name what several sets share are none of these.
      const count = view.picture === OVERLAP ? setCount(setsOf(parts, model, day)) : parts.length
      if (!picture || !first || count <= most) return []
      const roomier = pictures.filter(
        ({ arranges }) => arranges && arranges.family === picture.arranges?.family && arranges.takes[1] >= count,
      )
      return [
        {
          message: `${inView(view)} has ${count} parts; as ${picture.title.toLowerCase()} it takes ${most} well.`,
          subjects: [first.id],
          about: view.id,
          fixes: roomier
            .slice(0, 2)
            .map(({ id, title }) => fix(`As ${title.toLowerCase()}`, setView(view.id, 'picture', id))),
        },
      ]
    }),
}

const impossibleSet: Rule = {
  id: 'fig/impossible-set',
  severity: 'error',
  title: 'Sets that cannot be',
  why: 'What is in several sets is in each of them: no region has more than a set that holds it, and none fewer than nothing.',
  source: COMMON,
  check: (model, day) => {
    const told = new Set<string>()
    return figureViews(model).flatMap((view): Found[] => {
      if (view.picture !== OVERLAP) return []
      const { parts } = shownOf(linesOn(model, view, day), view, model, day)
      return impossibleIn(parts, model, day).flatMap(({ lines, words }): Found[] => {
        const subjects = lines.map(({ id }) => id)
        // Two views of one figure say it once.
        const key = `${subjects.join(' ')} ${words}`
        if (told.has(key)) return []
        told.add(key)
        return [{ message: words, subjects, fixes: [] }]
      })
    })
  },
}

const tooSmall: Rule = {
  id: 'fig/too-small',
  severity: 'warning',
  title: 'Text too small on its paper',
  why: 'What is printed smaller than this is not read by everybody.',
  source: COMMON,
  threshold: { initial: 8, label: 'Smallest text of a figure, in points' },
  check: (model, day) =>
    figureViews(model).flatMap((view): Found[] => {
      const picture = gesturesOf(view)
      const paper = paperOf(view.look)
      const least = thresholdOf(model, tooSmall)
      if (!picture || !paper) return []
      const points = pointsOf(model, view, day)
      const first = firstOf(model, view, day)
      if (first === undefined || points >= least) return []
      return [
        {
          message: `The smallest text of ${inView(view)} is ${points.toFixed(1)} pt on ${paper.title}; ${least} pt is the least.`,
          subjects: [first],
          about: view.id,
          fixes: largerPapers(model, view, day, least),
        },
      ]
    }),
}

/** Where a figure begins: its first part, or the first concept of a map. */
const firstOf = (model: Model, view: View, day: Day): Id | undefined =>
  view.picture === 'concepts'
    ? mapOn(model, view, day).concepts[0]?.id
    : shownOf(linesOn(model, view, day), view, model, day).parts[0]?.id

/** What a view was last measured of: it need not be drawn again while that is the same. */
interface MeasuredView {
  readonly day: Day
  readonly facts: readonly unknown[]
  readonly points: number
}
const measured = new WeakMap<View, MeasuredView>()

/** The size of the smallest text of a figure, in points; what is gathered of other facts is measured each time. O(figure) */
function pointsOf(model: Model, view: View, day: Day): number {
  const lines = linesOn(model, view, day)
  const map = mapOn(model, view, day)
  const isGathered = lines.all.some(({ entity }) => entity.fields['gathers'] !== undefined)
  const facts = [
    lines.figure,
    ...lines.all.map(({ entity }) => entity),
    ...map.concepts.map(({ entity }) => entity),
    ...map.links.map(({ relation }) => relation),
  ]
  const known = measured.get(view)
  if (
    known?.day === day &&
    !isGathered &&
    known.facts.length === facts.length &&
    known.facts.every((one, at) => one === facts[at])
  )
    return known.points
  const scene = gesturesOf(view)?.draw(model, view, day)
  const points = scene ? smallestText(scene) * POINTS : Infinity
  measured.set(view, { day, facts, points })
  return points
}

/** What would make it large enough: the paper turned, or the next that does. */
function largerPapers(model: Model, view: View, day: Day, least: number) {
  const across = view.look['across'] === true
  const tried = [
    { paper: view.look['paper'] as string, across: !across },
    ...['A4', 'A3', 'A2'].map((paper) => ({ paper, across })),
  ]
  const found = tried.find((look) =>
    look.paper !== view.look['paper'] || look.across !== across
      ? pointsOf(model, { ...view, look: { ...view.look, ...look } }, day) >= least
      : false,
  )
  return found
    ? [
        fix(
          `On ${found.paper} ${found.across ? 'across' : 'upright'}`,
          setView(view.id, 'look.paper', found.paper),
          setView(view.id, 'look.across', found.across),
        ),
      ]
    : []
}

const emptyPart: Rule = {
  id: 'fig/empty-part',
  severity: 'note',
  title: 'Nothing said of a part',
  why: 'Where something is said of the others, a reader takes an empty part for a mistake.',
  source: COMMON,
  check: (model, day) =>
    model.ofKind('figure').flatMap(({ id }) => {
      const { tops } = linesOn(model, { scope: { figure: id } }, day)
      const [only] = tops
      const parts = tops.length === 1 && only ? only.parts : tops
      const empty = parts.filter(
        (one) =>
          one.parts.length === 0 &&
          one.entity.fields['value'] === undefined &&
          one.entity.fields['gathers'] === undefined,
      )
      if (empty.length === 0 || empty.length * 2 >= parts.length) return []
      return empty.map((one): Found => ({
        message: `Nothing is said of “${one.entity.name}”, as it is of the other ${parts.length - empty.length}.`,
        subjects: [one.id],
        fixes: [fix('Remove it', ...removal(model, one.id))],
      }))
    }),
}

const unnamed: Rule = {
  id: 'fig/unnamed',
  severity: 'warning',
  title: 'A part without a text',
  why: 'A part that says nothing is printed as it is.',
  source: COMMON,
  check: (model, day) =>
    model.ofKind('figure').flatMap(({ id }) =>
      linesOn(model, { scope: { figure: id } }, day)
        .all.filter(({ entity }) => entity.name === UNNAMED || entity.name.trim() === '')
        .map((one): Found => ({
          message: `A part ${one.above ? `under “${one.above.entity.name}” ` : ''}has no text yet.`,
          subjects: [one.id],
          fixes: one.parts.length > 0 ? [] : [fix('Remove it', ...removal(model, one.id))],
        })),
    ),
}

export const rules: readonly Rule[] = [
  // These look at views, which are no facts that rules are told of.
  tooMany,
  impossibleSet,
  tooSmall,
  ...reading({ facts: { figure: true, part: true }, words: ['part'], names: ['*ties'] }, emptyPart, unnamed),
  ...mapRules,
]
