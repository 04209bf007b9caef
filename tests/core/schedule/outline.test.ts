import { describe, expect, it } from 'vitest'
import { apply, asId, Model } from '../../../src/core/model'
import { isRefusal } from '../../../src/core/notation'
import { readWork } from '../../../src/core/notations/schedule/words'
import { DAY } from '../../facts'
import { act, after, datesOf, idOf, outline, planned, planView, shown, text, wishOf, workOf } from './facts'

const PLAN = `Prepare
  Agree on the aim  3d  @ Ada Holm
  Choose a supplier  10d  @ Ada Holm, Ben Aas 50 %  after 1.1
  milestone: Contract signed  after 1.2
Build
  Draft the design  8d  after 1.3
  Build it  4w  after 2.1SS+2d  from 2026-02-02  by 2026-03-06`

describe('the outline of a plan', () => {
  it('is read and written as the same text', () => {
    expect(text(planned(PLAN))).toBe(PLAN)
  })
  it('takes one space where nothing can be mistaken, and keeps words that only look like it', () => {
    expect(readWork('Build the slipway 5d @ Ada after 3, 4SS+2d')).toMatchObject({
      name: 'Build the slipway',
      duration: '5d',
      who: [{ name: 'Ada', units: undefined }],
      after: [
        { ref: '3', type: 'FS', lag: undefined },
        { ref: '4', type: 'SS', lag: '2d' },
      ],
    })
    expect(readWork('Look after passengers  2 days')).toMatchObject({
      name: 'Look after passengers',
      duration: '2d',
      after: undefined,
    })
    expect(readWork('Go live milestone')).toMatchObject({ name: 'Go live', kind: 'milestone' })
    // Parts with one space between them after a name with two.
    expect(readWork('Open  2d after 1.2 by 2027-02-26')).toMatchObject({
      name: 'Open',
      duration: '2d',
      after: [{ ref: '1.2', type: 'FS' }],
      by: '2027-02-26',
    })
    expect(readWork('Sort  what came  after lunch')).toMatchObject({
      name: 'Sort what came',
      after: [{ ref: 'lunch' }],
    })
    expect(readWork('Dry  4d  after 2FF-1d')).toMatchObject({ after: [{ ref: '2', type: 'FF', lag: '-1d' }] })
  })
  it('makes people once, though they stand in several lines', () => {
    const model = planned(PLAN)
    expect(model.ofKind('person').map(({ name }) => name)).toEqual(['Ada Holm', 'Ben Aas'])
    expect(model.relationsOfKind('assigned').map(({ fields }) => fields['units'])).toEqual([undefined, undefined, 0.5])
  })
  it('writes a line: name, duration, people, links', () => {
    const model = planned(PLAN)
    const id = idOf(model, 'Draft the design')
    const next = after(model, outline.write(wishOf(model), id, 'Draw it  2d  @ Cleo  after 1.1'))
    expect(text(next)).toContain('  Draw it  2d  @ Cleo  after 1.1\n')
    expect(datesOf(next, 'Draw it')).toBe('2026-01-08 to 2026-01-09')
    expect(outline.write(wishOf(model), id, 'Draw it  after 9.9')).toEqual({
      refused: 'There is no task “9.9” in this plan.',
    })
    expect(outline.write(wishOf(model), id, 'Draw it  after 2.2')).toHaveProperty('refused')
  })
  it('moves levels: what a line is put under becomes a group, and back out', () => {
    const model = planned('A  1d\nB  2d\nC  3d')
    const under = after(model, outline.indent(wishOf(model), idOf(model, 'B')))
    expect(text(under)).toBe('A\n  B  2d\nC  3d')
    expect(workOf(under, 'A').kind).toBe('group')
    const back = after(under, outline.outdent(wishOf(under), idOf(under, 'B')))
    expect(text(back)).toBe('A\nB  2d\nC  3d')
    expect(isRefusal(outline.indent(wishOf(model), idOf(model, 'A')))).toBe(true)
    const up = after(model, outline.move(wishOf(model), idOf(model, 'C'), -1))
    expect(text(up)).toBe('A  1d\nC  3d\nB  2d')
  })
  it('inserts a line after another and gives the numbers after it anew', () => {
    const model = planned('A  1d\nB  2d  after 1')
    const next = after(model, outline.insert(wishOf(model), idOf(model, 'A'), 'New one  4h'))
    expect(text(next)).toBe('A  1d\nNew one  4h\nB  2d  after 1')
  })
  it('says before a group goes what goes with it, and heals the flow around a task', () => {
    const model = planned('G\n  A  1d\n  B  2d  after 1.1\n  C  1d  after 1.2')
    const outcome = outline.remove(wishOf(model), idOf(model, 'G'))
    expect(isRefusal(outcome) ? [] : outcome.spreads).toHaveLength(3)
    expect(text(after(model, outline.remove(wishOf(model), idOf(model, 'B'))))).toBe('G\n  A  1d\n  C  1d  after 1.1')
  })
  it.each([
    ['a  1d  after 2\nb  1d  after 1', 'circle'],
    ['a  1d  after 7', 'not in the list'],
    ['', 'no line'],
  ])('refuses %j in words', (list, words) => {
    const empty = Model.of({ name: 'T', views: [planView()] })
    expect(outline.paste(wishOf(empty), undefined, list)).toMatchObject({
      refused: expect.stringContaining(words) as string,
    })
  })
  it('takes a list of 5 000 lines with a link each', () => {
    const list = Array.from({ length: 5000 }, (_, i) => `Task ${i + 1}  2d${i > 0 ? `  after ${i}` : ''}`).join('\n')
    expect(shown(planned(list)).list).toHaveLength(5000)
  })
})

describe('what is done with a task', () => {
  it('next comes after, a milestone beside, a split halves', () => {
    const model = planned('A  4d\nB  2d  after 1')
    expect(text(after(model, act(model, 'next', [idOf(model, 'A')])))).toBe('A  4d\nNew task  after 1\nB  2d  after 1')
    expect(text(after(model, act(model, 'milestone', [idOf(model, 'B')])))).toContain('milestone: New task')
    expect(text(after(model, act(model, 'split', [idOf(model, 'A')])))).toBe(
      'A  2d\nA, rest  2d  after 1\nB  2d  after 2',
    )
  })
  it('turns task, milestone and group into each other, and keeps the ties', () => {
    const model = planned('A  4d\nB  2d  after 1')
    const mark = after(model, act(model, 'to-milestone', [idOf(model, 'A')]))
    expect(text(mark)).toBe('milestone: A\nB  2d  after 1')
    expect(text(after(mark, act(mark, 'to-task', [idOf(mark, 'A')])))).toBe('A\nB  2d  after 1')
  })
  it('tells progress: begun when a part is done, finished when all is', () => {
    const model = planned('A  4d')
    const half = after(model, act(model, 'half', [idOf(model, 'A')]))
    expect(workOf(half, 'A').entity.fields).toMatchObject({ percent: 50, actualStart: '2026-01-05' })
    const all = after(half, act(half, 'done', [idOf(half, 'A')]))
    expect(workOf(all, 'A').entity.fields).toMatchObject({ percent: 100, actualFinish: '2026-01-08' })
    expect(workOf(after(all, act(all, 'undone', [idOf(all, 'A')])), 'A').entity.fields).not.toHaveProperty(
      'actualStart',
    )
  })
  it('freezes a baseline, and says how far the plan has slipped since', () => {
    const model = planned('A  4d\nB  2d  after 1')
    const frozen = after(model, act(model, 'baseline', []))
    expect(frozen.relationsOfKind('baselined').map(({ fields }) => fields)).toEqual([
      { start: '2026-01-05', finish: '2026-01-08' },
      { start: '2026-01-09', finish: '2026-01-12' },
    ])
    const slipped = after(frozen, outline.write(wishOf(frozen), idOf(frozen, 'A'), 'A  7d'))
    const picture = apply(slipped, { label: '', steps: [] }).model
    const view = picture.views.get(asId('view')) ?? planView()
    expect(scheduleHeadline(picture, view)).toContain('3d late')
  })
})

const scheduleHeadline = (model: Model, view: ReturnType<typeof planView>): string => barsOf(model, view).headline
const barsOf = (model: Model, view: ReturnType<typeof planView>) => {
  const [bars] = pictures
  if (!bars) throw new Error('no picture')
  return bars.draw(model, view, DAY)
}
const { pictures } = (await import('./facts')).schedule
