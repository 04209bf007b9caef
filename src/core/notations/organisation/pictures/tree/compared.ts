import type { Id } from '../../../../model'
import type { Against } from '../../../../notation'
import { kit, textWidth, wrap, type Box, type Item, type Mark, type Role } from '../../../../scene'
import { changesInWords, postChanges, SIGN, signsOf, type PostChange } from '../../changes'
import { structureOn } from '../../structure'

const GHOST = { width: 150, height: 44, gap: 12, perRow: 8 }

export interface Compared {
  readonly headline: string
  readonly items: readonly Item[]
  /** Cards of positions that are gone, beneath the drawing. */
  readonly height: number
  readonly backdrop: readonly Mark[]
}

/**
 * The same scene with what differs from an earlier state: a sign and words on every card that is new or altered, others pale,
 * and those that are gone in a row beneath. Signs and dashes carry it, so that it reads in grey. O(items).
 */
export function compareItems(items: readonly Item[], under: Box, before: Against, after: Against): Compared {
  const changes = postChanges(before, after)
  const shown = items.map((item): Item => {
    const change = changes.get(item.id)
    return change
      ? { ...item, label: `${item.label}: ${wordsOf(change)}`, marks: [...item.marks, ...tag(change, item.box)] }
      : { ...item, marks: [kit.group(item.marks, { opacity: 0.4 })] }
  })
  const gone = [...changes].filter(([, { sort }]) => sort === 'gone').map(([id]) => id)
  const top = under.y + under.height + 24
  const ghosts = gone.map((id, index) => ghost(before, id, index, under.x + 24, top))
  const rows = Math.ceil(gone.length / GHOST.perRow)
  const heading: Mark = kit.text(under.x + 24, top - 8, `${SIGN.gone} No longer there`, {
    fill: 'ink-quiet',
    'font-size': 11,
  })
  return {
    headline: changesInWords(changes),
    items: [...shown, ...ghosts],
    height: rows === 0 ? 0 : 24 + rows * (GHOST.height + GHOST.gap),
    backdrop: rows === 0 ? [] : [heading],
  }
}

const wordsOf = ({ sort, moved, retitled, otherHolder }: PostChange): string =>
  sort === 'altered' ? [moved, retitled, otherHolder].filter(Boolean).join(', ') : sort

/** A dark tag on the card’s upper edge with the signs, and the words beneath the card. */
function tag(change: PostChange, { width, height }: Box): Mark[] {
  const signs = signsOf(change)
  const tagWidth = textWidth(signs, 11, 'text700') + 12
  const words = change.sort === 'altered' ? (wrap(wordsOf(change), width, 9, 'text400', 1)[0] ?? '') : ''
  const marks: Mark[] = [
    kit.rect(
      { x: -1.5, y: -1.5, width: width + 3, height: height + 3 },
      { rx: 4, fill: 'none', stroke: 'ink', 'stroke-width': 1.5 },
    ),
    kit.rect({ x: width - tagWidth - 4, y: -9, width: tagWidth, height: 16 }, { rx: 2, fill: 'ink', stroke: 'none' }),
    kit.text(width - 4 - tagWidth / 2, 3, signs, {
      fill: 'sheet',
      'font-size': 11,
      'font-weight': 700,
      'text-anchor': 'middle',
    }),
  ]
  if (words !== '') marks.push(kit.text(4, height + 9, words, { fill: 'ink', 'font-size': 9 }))
  return marks
}

function ghost({ model, day }: Against, id: Id, index: number, left: number, top: number): Item {
  const post = structureOn(model, day).posts.get(id)
  const name = post?.holders.map(({ person }) => person.name).join(' & ') || 'vacant'
  const title = post?.position.name ?? id
  const x = left + (index % GHOST.perRow) * (GHOST.width + GHOST.gap)
  const y = top + Math.floor(index / GHOST.perRow) * (GHOST.height + GHOST.gap)
  const line = (text: string, at: number, size: number, fill: Role, weight: number): Mark =>
    kit.text(12, at, wrap(text, GHOST.width - 20, size, weight === 700 ? 'text700' : 'text400', 1)[0] ?? '', {
      fill,
      'font-size': size,
      'font-weight': weight,
      'text-decoration': 'line-through',
    })
  return {
    id,
    facts: [id],
    label: `${name} — ${title}: gone`,
    box: { x, y, width: GHOST.width, height: GHOST.height },
    marks: [
      kit.rect(
        { x: 0.5, y: 0.5, width: GHOST.width - 1, height: GHOST.height - 1 },
        { rx: 3, fill: 'sheet', stroke: 'outline', 'stroke-dasharray': '2 3' },
      ),
      line(name, 18, 12.5, 'ink', 700),
      line(title, 34, 11.5, 'ink-quiet', 400),
    ],
    texts: [],
  }
}
