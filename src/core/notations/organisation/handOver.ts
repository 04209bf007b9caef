import { addDays, apply, dayInWords, type Id, type Step } from '../../model'
import { changed, addRelation, setRelation, type Outcome, type Refusal, type Wish } from '../../notation'
import { calledOn, moveSteps } from './edits'
import { NOTHING, onePost, selectedPosts } from './selected'
import { aboveOf, branchOf, structureOn, type Post } from './structure'
import { countOf, titleOf } from './words'

/** All selected posts, with their reports, go under the target. */
export function handOver(wish: Wish): Outcome {
  const { model, day, target } = wish
  const posts = selectedPosts(wish)
  const first = posts[0]
  if (!first) return NOTHING
  if (target === undefined) return { refused: 'Say to whom.' }
  const steps: Step[] = []
  for (const post of posts) {
    if (post.line?.target === target && !post.assists && posts.length === 1)
      return {
        refused: `${calledOn(model, post.position.id, day)} reports to “${titleOf(model, target, day)}” already.`,
      }
    const moved = moveSteps(wish, post.position.id, target)
    if ('refused' in moved) return moved
    steps.push(...moved)
  }
  const who = posts.length === 1 ? calledOn(model, first.position.id, day) : `${posts.length} positions`
  const along = posts.flatMap((post) => movesInWords(wish, post, target))
  return changed(`Hand ${who} over to ${calledOn(model, target, day)}`, steps, {
    ...(along.length > 0 ? { along } : {}),
  })
}

/** What a hand-over of a branch changes, as facts; nothing for a position that nobody reports to. */
function movesInWords({ model, day }: Wish, post: Post, target: Id): string[] {
  const { id } = post.position
  const below = branchOf(structureOn(model, day), id).length - 1
  if (below === 0) return []
  const from = aboveOf(post)
  const instead = from === undefined ? 'nobody' : `“${titleOf(model, from, day)}”`
  const names = post.reports.slice(0, 3).map((report) => calledOn(model, report, day))
  const more = post.reports.length > names.length ? ` and ${post.reports.length - names.length} more` : ''
  return [
    `${calledOn(model, id, day)} reports to “${titleOf(model, target, day)}” instead of ${instead}.`,
    `${countOf(below, 'position')} below ${below === 1 ? 'comes' : 'come'} along: ${names.join(', ')}${more}.`,
  ]
}

/** The same, shown as facts before it is done where others come along. */
export function handOverAsking(wish: Wish): Outcome {
  const outcome = handOver(wish)
  return 'refused' in outcome || !outcome.along ? outcome : { ...outcome, spreads: outcome.along }
}

/** Only the selected posts go under the target; their reports stay where they were and report to the old manager. */
export function handOverAlone(wish: Wish): Outcome {
  const { model, day, target } = wish
  const post = onePost(wish)
  if (!post) return { refused: 'Hand over one position at a time, where its reports stay behind.' }
  if (target === undefined) return { refused: 'Say to whom.' }
  const { id } = post.position
  if (target === id) return { refused: 'A position cannot report to itself.' }
  const old = aboveOf(post)
  const steps: Step[] = []
  let staged = model
  // One after the other, so that each finds its place among those who moved before.
  const take = (moved: Step[] | Refusal): Refusal | undefined => {
    if ('refused' in moved) return moved
    steps.push(...moved)
    staged = apply(staged, { label: '', steps: moved }).model
    return undefined
  }
  for (const report of [...post.reports, ...post.assistants]) {
    const refusal = take(moveSteps({ ...wish, model: staged }, report, old))
    if (refusal) return refusal
  }
  const refusal = take(moveSteps({ ...wish, model: staged }, id, target))
  if (refusal) return refusal
  const stays = post.reports.map(
    (report) =>
      `${calledOn(model, report, day)} ${old === undefined ? 'has no manager any more' : `reports to “${titleOf(model, old, day)}”`}.`,
  )
  const label = `Hand ${calledOn(model, id, day)} alone over to ${calledOn(model, target, day)}`
  return changed(label, steps, { ...(stays.length > 0 ? { along: stays } : {}) })
}

export function handOverAloneAsking(wish: Wish): Outcome {
  const outcome = handOverAlone(wish)
  return 'refused' in outcome || !outcome.along ? outcome : { ...outcome, spreads: outcome.along }
}

/** The same, but only from the day shown on: the line so far ends the day before. */
export function handOverFrom(wish: Wish): Outcome {
  const { model, day, target, newId } = wish
  const post = onePost(wish)
  if (!post || target === undefined) return NOTHING
  const { id } = post.position
  const moved = moveSteps(wish, id, target)
  if ('refused' in moved) return moved
  if (!post.line) return { refused: 'There is no line on the day shown that could end.' }
  if (post.line.target === target) return { refused: `It reports to “${titleOf(model, target, day)}” already.` }
  const { line } = post
  const steps: Step[] = [
    setRelation(line.id, 'to', addDays(day, -1)),
    addRelation({ ...line, id: newId(), target, from: day, ...(line.to ? { to: line.to } : {}) }),
  ]
  return changed(
    `Hand ${calledOn(model, id, day)} over to ${calledOn(model, target, day)} from ${dayInWords(day)}`,
    steps,
  )
}

/** The holders of two positions change places. */
export function swap(wish: Wish): Outcome {
  const { model, day, target } = wish
  const [a, b] = [onePost(wish), target === undefined ? undefined : structureOn(model, day).posts.get(target)]
  if (!a || !b || target === undefined) return NOTHING
  if (a.position.id === target) return { refused: 'A position cannot be swapped with itself.' }
  if (a.holders.length + b.holders.length === 0) return { refused: 'Nobody holds either of the two on the day shown.' }
  const moved = (post: Post, to: Id) => post.holders.map(({ holds }): Step => setRelation(holds.id, 'target', to))
  const label = `Swap ${calledOn(model, a.position.id, day)} and ${calledOn(model, target, day)}`
  return changed(label, [...moved(a, target), ...moved(b, a.position.id)])
}
