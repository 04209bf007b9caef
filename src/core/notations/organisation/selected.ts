import { tenuresOf, type Wish } from '../../notation'
import { structureOn, type Post } from './structure'

export type Selecting = Pick<Wish, 'model' | 'day' | 'selection'>

/** The posts of the selection: a selected person stands for the position held. */
export function selectedPosts({ model, day, selection }: Selecting): Post[] {
  const { posts } = structureOn(model, day)
  return selection.flatMap((id) => {
    const post = posts.get(id)
    if (post) return [post]
    return tenuresOf(model, id).flatMap(({ target }) => posts.get(target) ?? [])
  })
}

export const onePost = (wish: Selecting): Post | undefined => {
  const posts = selectedPosts(wish)
  return posts.length === 1 ? posts[0] : undefined
}

export const needsOne = (wish: Selecting): boolean => onePost(wish) !== undefined
export const needsSome = (wish: Selecting): boolean => selectedPosts(wish).length > 0
export const NOTHING = { refused: 'Select a position first.' }
