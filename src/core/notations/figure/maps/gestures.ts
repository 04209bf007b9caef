import {
  changed,
  GONE,
  setEntity,
  setRelation,
  setView,
  tie,
  tooLongName,
  type Gestures,
  type Outcome,
  type Wish,
} from '../../../notation'
import { mapOn } from './structure'

export const conceptGestures: Gestures = {
  id: 'concepts',
  title: 'Concept map',
  good: 'What is known of something, in concepts and what links them',
  draws: ['figure', 'concept'],
  options: [
    { id: 'shape', label: 'Concepts', type: 'choice', choices: ['rounded', 'square', 'ovals'], initial: 'rounded' },
    { id: 'title', label: 'Title', type: 'flag', initial: true },
  ],
  pull: pullLink,
  write: writeWords,
}

/** A link drawn from a concept to another one, its phrase typed at once. */
function pullLink(wish: Wish): Outcome {
  const [from] = wish.selection
  if (from === undefined || wish.target === undefined || wish.target === from) return changed('', [])
  const map = mapOn(wish.model, wish.view, wish.day)
  const [a, b] = [map.byId.get(from), map.byId.get(wish.target)]
  if (!a || !b) return changed('', [])
  const id = wish.newId()
  return changed(`Link “${a.entity.name}” to “${b.entity.name}”`, [tie(id, 'links', a.id, b.id)], {
    select: id,
    edit: 'phrase',
  })
}

function writeWords({ model, view, selection: [id] }: Wish, part: string, text: string): Outcome {
  const words = text.trim()
  const tooLong = tooLongName(words)
  if (tooLong) return tooLong
  if (id !== undefined && part === 'phrase' && model.relations.get(id)?.kind === 'links')
    return changed(words === '' ? 'No phrase' : `Write “${words.slice(0, 60)}”`, [
      setRelation(id, 'fields.phrase', words === '' ? null : words),
    ])
  const one = id === undefined ? undefined : model.entities.get(id)
  if (!one || part !== 'name') return GONE
  if (words === '') return { refused: 'It has a name. Delete removes it.' }
  return changed(`Write “${words.slice(0, 60)}”`, [
    setEntity(one.id, 'name', words),
    ...(one.kind === 'figure' && view.title === one.name ? [setView(view.id, 'title', words)] : []),
  ])
}
