import type { Day, Id, Model } from '../../../model'
import { fixAs, setField, type Fix, type Found } from '../../../notation'
import { momentText, plansOn, type Plan, type Work } from '../plan'

export const inEach = (model: Model, day: Day, find: (plan: Plan) => readonly Found[]): Found[] =>
  plansOn(model, day).flatMap(find)
export const leaves = ({ list }: Plan): Work[] => list.filter(({ kind }) => kind !== 'group')
export const finding = (work: Work, message: string, fixes: readonly Fix[] = [], more: readonly Id[] = []): Found => ({
  message,
  subjects: [work.id, ...more],
  fixes,
})
export const clearing = (work: Work, label: string, ...fields: readonly string[]): Fix =>
  fixAs(label, `${label}: ${work.entity.name}`, ...fields.map((field) => setField(work.id, field, null)))

/** What is wrong with tasks and milestones, one by one. */
export const eachLeaf = (model: Model, day: Day, find: (work: Work, plan: Plan) => readonly Found[]): Found[] =>
  inEach(model, day, (plan) => leaves(plan).flatMap((work) => find(work, plan)))

export const dayOfInstant = (work: Work, end: 'start' | 'finish'): Day =>
  momentText(work[end], work.time, end).slice(0, 10) as Day
