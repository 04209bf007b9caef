import type { Id, Model, StepValue, View } from '../model'
import { kit, type Item, type Mark, type Scene } from '../scene'
import { changed, GONE, setField } from './edit'
import { LIMITS } from './limits'
import type { Column } from './notation'

/** An address that is followed: of the web, of mail, or a view of the workspace. */
const OUTSIDE = /^(?:https?:\/\/|mailto:)[^\s<>"]+$/i
const VIEW = '#view='

/** Where a fact’s link leads; undefined for what is no address, which is never followed. */
export function linkOf(model: Model, id: Id): string | undefined {
  const link = model.entities.get(id)?.fields['link']
  return typeof link === 'string' && isFollowed(model, link) ? link : undefined
}

const isFollowed = (model: Model, link: string): boolean => OUTSIDE.test(link) || viewLinked(model, link) !== undefined

/** The view that a link leads to. */
export const viewLinked = (model: Model, link: string): View | undefined =>
  link.startsWith(VIEW) ? model.views.get(decoded(link.slice(VIEW.length)) as Id) : undefined

function decoded(text: string): string {
  try {
    return decodeURIComponent(text)
  } catch {
    return text
  }
}

/** A link as it is shown: a view by its title. */
export const linkShown = (model: Model, link: string): string => viewLinked(model, link)?.title ?? link

/** A typed link: an address, or the title of a view; empty takes it away. */
export function readLink(model: Model, typed: string): { readonly value: StepValue } | { readonly refused: string } {
  const text = typed.trim()
  if (text === '') return { value: null }
  const view = [...model.views.values()].find(({ title }) => title.toLowerCase() === text.toLowerCase())
  if (view) return { value: `${VIEW}${encodeURIComponent(view.id)}` }
  if (text.length > LIMITS.name) return { refused: `A link has ${LIMITS.name} characters at most.` }
  if (isFollowed(model, text)) return { value: text }
  const [site] = /^(?:[\w-]+\.)+[a-z]{2,}(?:[/?#]\S*)?$/i.exec(text) ?? []
  if (site !== undefined) return { value: `https://${site}` }
  return {
    refused: `“${text.slice(0, 60)}” is no link. Write an address such as https://example.org, or the title of a view.`,
  }
}

/** Links as a column: addresses, and views by their titles. */
export const linkColumn: Column = {
  id: 'link',
  label: 'Link',
  type: 'text',
  width: 180,
  read: (model, row) => {
    const link = model.entities.get(row)?.fields['link']
    return typeof link === 'string' ? linkShown(model, link) : undefined
  },
  choices: (model) => [...model.views.values()].map(({ title }) => title),
  write: ({ model }, row, text) => {
    const entity = model.entities.get(row)
    if (!entity) return GONE
    const read = readLink(model, text)
    return 'refused' in read ? read : changed(`Set link of “${entity.name}”`, [setField(row, 'link', read.value)])
  },
}

const SIGN = 5

/** A picture whose items say where they lead, each with a small arrow at its lower right, beside where notes are numbered. O(items) */
export function withLinks(scene: Scene, model: Model): Scene {
  const items = scene.items.map((item): Item => {
    const link =
      item.stays === undefined && item.marks.length > 0
        ? item.facts.map((fact) => linkOf(model, fact)).find(Boolean)
        : undefined
    return link === undefined ? item : { ...item, link, marks: [...item.marks, arrow(item)] }
  })
  return items.some((item, at) => item !== scene.items[at]) ? { ...scene, items } : scene
}

const arrow = ({ box: { width, height } }: Item): Mark => {
  const [x, y] = [width - SIGN - 15, height - 4]
  return kit.path(`M${x} ${y}l${SIGN} ${-SIGN}m${-SIGN + 1} 0h${SIGN - 1}v${SIGN - 1}`, {
    fill: 'none',
    stroke: 'action',
    'stroke-width': 1.4,
  })
}
