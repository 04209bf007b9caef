import type { Id } from '../../model'
import { TURNS, type Against, type Turn } from '../../notation'
import { aboveOf, structureOn, type Post } from './structure'
import { titleOf } from './words'

const RETITLED = { sign: '≠', counted: 'retitled' } as const
const OTHER_HOLDER = { sign: '±', counted: 'with another holder' } as const

/** What became of every position that is there on both days, in words: “moved from Finance lead”, “was Clerk”, “instead of Ada Holm”. O(positions). */
export function positionTurns(before: Against, after: Against): Map<Id, readonly Turn[]> {
  const [then, now] = [structureOn(before.model, before.day), structureOn(after.model, after.day)]
  const turns = new Map<Id, readonly Turn[]>()
  for (const [id, post] of now.posts) {
    const earlier = then.posts.get(id)
    const found = earlier ? alterations(before, earlier, post) : []
    if (found.length > 0) turns.set(id, found)
  }
  return turns
}

function alterations({ model, day }: Against, earlier: Post, post: Post): Turn[] {
  const turns: Turn[] = []
  const [from, to] = [aboveOf(earlier), aboveOf(post)]
  if (from !== to)
    turns.push({
      ...TURNS.moved,
      words: from === undefined ? 'had no manager' : `moved from ${titleOf(model, from, day)}`,
    })
  if (earlier.position.name !== post.position.name) turns.push({ ...RETITLED, words: `was ${earlier.position.name}` })
  const [held, holds] = [namesOf(earlier), namesOf(post)]
  if (held !== holds) turns.push({ ...OTHER_HOLDER, words: held === '' ? 'was vacant' : `instead of ${held}` })
  return turns
}

const namesOf = (post: Post): string => post.holders.map(({ person }) => person.name).join(' & ')
