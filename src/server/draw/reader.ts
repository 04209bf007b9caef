import { findingsAbout, findingsOf, isOpen } from '../../core/findings'
import { cut, dayInWords, type Day, type Id, type Model } from '../../core/model'
import { drawn, notesIn } from '../../core/notation'
import { registry } from '../../core/notations'
import { themeFor, toSvg, type Item, type Mark, type Scene } from '../../core/scene'
import { partMark } from './partMark'

export interface ReaderWish {
  readonly view: string
  /** All that may be read, in their order. */
  readonly views: readonly string[]
  readonly day: Day
  readonly findings: boolean
  /** The address at which it is read. */
  readonly base: string
  readonly images: ReadonlyMap<string, string>
  /** Of the address, where something may be said there: parts of the picture are then marked. */
  readonly secret?: string
}

/** A view as it is read by those who may only read. */
export interface ReaderPage {
  readonly view: string
  readonly title: string
  /** The views that may be read, by chapters. */
  readonly chapters: readonly {
    readonly title: string
    readonly views: readonly { readonly id: string; readonly title: string }[]
  }[]
  readonly day: string
  readonly caption?: string | undefined
  readonly svg: string
  /** Where the picture begins in it, in its px: places are told from there. */
  readonly origin: { readonly x: number; readonly y: number }
  readonly notes: readonly string[]
  readonly findings: readonly { readonly severity: string; readonly message: string }[]
  /** Those who read may say something. */
  readonly comments: boolean
  /** Why nothing is drawn. */
  readonly failure?: string
}

const MOST_FINDINGS = 200
const MOST_OF_NAME = 80

/** A view with the words that belong to it. What leads to views that may not be read leads nowhere. O(drawing + rules where findings are wanted) */
export function readerPage(model: Model, wish: ReaderWish): ReaderPage {
  const own = new Set(wish.views)
  const views = [...model.views.values()].filter(({ id }) => own.has(id)).sort((a, b) => a.order - b.order)
  const view = views.find(({ id }) => id === wish.view)
  if (!view) throw new RangeError('there is no such view')
  const chapters = registry.notations.flatMap(({ id, chapter }) => {
    const list = views.filter(({ notation }) => notation === id).map((one) => ({ id: one.id, title: one.title }))
    return list.length > 0 ? [{ title: chapter, views: list }] : []
  })
  const told = {
    view: view.id,
    title: view.title,
    chapters,
    day: dayInWords(wish.day),
    caption: view.caption,
    notes: notesIn(view).map(({ words }) => words),
    comments: wish.secret !== undefined,
  }
  const scene = sceneOf(() => drawn(registry, model, view, wish.day))
  if (typeof scene === 'string') return { ...told, svg: '', origin: { x: 0, y: 0 }, findings: [], failure: scene }
  const inside: Scene = {
    ...scene,
    items: scene.items.map((item) => {
      const view = /^#view=(.+)$/.exec(item.link ?? '')?.[1]
      const { link: _link, ...bare } = item
      return view !== undefined && !own.has(view) ? bare : item
    }),
  }
  const { secret } = wish
  const svg = toSvg(inside, {
    theme: themeFor(model.settings, view.look),
    title: view.title,
    base: wish.base,
    images: wish.images,
    ...(view.alt === undefined ? {} : { alt: view.alt }),
    ...(secret === undefined ? {} : { markOf: (item) => markedPart(secret, item) }),
  })
  const shown = new Set<Id>([view.id, ...scene.items.flatMap(({ facts }) => facts), ...scene.links.map(({ id }) => id)])
  const namesAlone = namingAlone(model, shown)
  // Only what speaks of nothing but what is drawn there: what else there is, is not told.
  const findings = wish.findings
    ? findingsAbout(findingsOf(registry, model, wish.day), [...shown])
        .filter((finding) => isOpen(finding) && finding.subjects.every((id) => shown.has(id)))
        .filter(({ message }) => namesAlone(message))
        .slice(0, MOST_FINDINGS)
        .map(({ severity, message }) => ({ severity, message }))
    : []
  // Another view is another page, not a place on this one.
  const { x, y } = scene.picture ?? scene.bounds
  return {
    ...told,
    origin: { x: Math.round(x), y: Math.round(y) },
    svg: svg.replaceAll(`"${wish.base}#view=`, `"${wish.base}?view=`),
    findings,
  }
}

/** Whether words name nothing that is not drawn: names of facts stand in quotation marks. O(facts), then O(words) */
function namingAlone(model: Model, shown: ReadonlySet<Id>): (words: string) => boolean {
  const [drawn, others] = [new Set<string>(), new Set<string>()]
  for (const { id, name } of model.entities.values()) (shown.has(id) ? drawn : others).add(name)
  return (words) => [...words.matchAll(/“([^“”]*)”/g)].every(([, name = '']) => drawn.has(name) || !others.has(name))
}

/**
 * What is drawn of a fact can be spoken about; a head that stays in view is drawn of it once more. It is called as it is written there: what
 * is read aloud of it on the page may tell more than the picture does.
 */
function markedPart(secret: string, { facts: [fact], marks }: Item) {
  const name = cut(wordsIn(marks).join(', '), MOST_OF_NAME)
  return fact === undefined ? undefined : { part: partMark(secret, fact), name: name || 'this part' }
}

const wordsIn = (marks: readonly Mark[]): readonly string[] =>
  marks.flatMap((mark) => (mark.tag === 'text' ? [mark.children[0]] : mark.tag === 'g' ? wordsIn(mark.children) : []))

function sceneOf(draw: () => Scene | undefined): Scene | string {
  try {
    return draw() ?? 'There is no such picture.'
  } catch (error) {
    return `This view cannot be drawn: ${error instanceof Error ? error.message : String(error)}.`
  }
}
