import type { Id } from '../../model'
import type { Against } from '../../notation'
import { aboveOf, structureOn, type Post } from './structure'
import { titleOf } from './words'

/** What became of a position between two days. A position that is there on both may have several of the last three. */
export interface PostChange {
  readonly sort: 'new' | 'gone' | 'altered'
  /** In words: “moved from Finance lead”, “was Clerk”, “instead of Ada Holm”. */
  readonly moved?: string
  readonly retitled?: string
  readonly otherHolder?: string
}

/** Every position that differs between two days or two states of the facts, in the order of the later one, then those that are gone. O(positions). */
export function postChanges(before: Against, after: Against): Map<Id, PostChange> {
  const [then, now] = [structureOn(before.model, before.day), structureOn(after.model, after.day)]
  const changes = new Map<Id, PostChange>()
  for (const [id, post] of now.posts) {
    const earlier = then.posts.get(id)
    const change = earlier ? alteration(before, earlier, post) : ({ sort: 'new' } as const)
    if (change) changes.set(id, change)
  }
  for (const id of then.posts.keys()) if (!now.posts.has(id)) changes.set(id, { sort: 'gone' })
  return changes
}

function alteration({ model, day }: Against, earlier: Post, post: Post): PostChange | undefined {
  const [from, to] = [aboveOf(earlier), aboveOf(post)]
  const moved =
    from === to ? undefined : from === undefined ? 'had no manager' : `moved from ${titleOf(model, from, day)}`
  const retitled = earlier.position.name === post.position.name ? undefined : `was ${earlier.position.name}`
  const [then, now] = [namesOf(earlier), namesOf(post)]
  const otherHolder = then === now ? undefined : then === '' ? 'was vacant' : `instead of ${then}`
  if (!moved && !retitled && !otherHolder) return undefined
  return {
    sort: 'altered',
    ...(moved ? { moved } : {}),
    ...(retitled ? { retitled } : {}),
    ...(otherHolder ? { otherHolder } : {}),
  }
}

const namesOf = (post: Post): string => post.holders.map(({ person }) => person.name).join(' & ')

/** The sign of a change: it reads without colour. */
export const SIGN = { new: '+', gone: '−', moved: '→', retitled: '≠', otherHolder: '⇄' } as const

/** The signs of one change, for a tag on its card. */
export const signsOf = (change: PostChange): string =>
  change.sort !== 'altered'
    ? SIGN[change.sort]
    : [change.moved && SIGN.moved, change.retitled && SIGN.retitled, change.otherHolder && SIGN.otherHolder]
        .filter(Boolean)
        .join(' ')

/** “+ 2 new, − 1 gone, → 8 moved, ⇄ 3 other holders”. */
export function changesInWords(changes: ReadonlyMap<Id, PostChange>): string {
  const all = [...changes.values()]
  const count = (test: (change: PostChange) => unknown) => all.filter(test).length
  const parts: readonly (readonly [number, string])[] = [
    [count(({ sort }) => sort === 'new'), `${SIGN.new} # new`],
    [count(({ sort }) => sort === 'gone'), `${SIGN.gone} # gone`],
    [count(({ moved }) => moved), `${SIGN.moved} # moved`],
    [count(({ retitled }) => retitled), `${SIGN.retitled} # retitled`],
    [count(({ otherHolder }) => otherHolder), `${SIGN.otherHolder} # with another holder`],
  ]
  const said = parts.filter(([number]) => number > 0).map(([number, words]) => words.replace('#', String(number)))
  return said.length > 0 ? said.join(', ') : 'no difference'
}
