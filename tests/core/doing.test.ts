import { describe, expect, it } from 'vitest'
import { byWorker, isRefusal } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import { handlings } from '../../src/core/notations/handling'
import type { Id, Model } from '../../src/core/model'
import { acted, cellsIn, nudged, pulled, reckonedIn } from '../../src/worker/doing'
import type { Wanted } from '../../src/worker/contract'
import { DAY } from './../facts'
import { after, datesOf, idOf, planned, planView, schedule } from './schedule/facts'

const MODEL = planned('Dig  3d\nPour  2d  after 1\nYard\n  Roof  4d')
const view = planView()
const withView = (model: Model) => model.with({ views: new Map([[view.id, view]]) })
const wanted = (...selection: Id[]): Wanted => ({ view: view.id, day: DAY, selection })

describe('what the page leaves to the worker', () => {
  it('is there in every notation', () => {
    const left = handlings.notations.flatMap(({ id, actions, registers }) => {
      const whole = registry.notations.find((one) => one.id === id)
      return [
        ...actions
          .filter(({ run }) => run === byWorker)
          .map((one) => [one.id, whole?.actions.find((a) => a.id === one.id)]),
        ...registers.flatMap((register) =>
          register.columns
            .filter(({ isReckoned }) => isReckoned)
            .map((one) => [
              one,
              whole?.registers.find((r) => r.id === register.id)?.columns.find((c) => c.id === one.id),
            ]),
        ),
      ]
    })
    expect(left.length).toBeGreaterThan(10)
    for (const [stated, found] of left) {
      expect(found).toBeDefined()
      expect(found).not.toBe(stated)
      expect(found).not.toHaveProperty('run', byWorker)
    }
  })

  it('acts on the dates as they are reckoned', () => {
    const model = withView(MODEL)
    const done = after(model, acted(model, 'done', wanted(idOf(model, 'Pour'))))
    expect(done.entities.get(idOf(model, 'Pour'))?.fields).toMatchObject({
      percent: 100,
      actualStart: '2026-01-08',
      actualFinish: '2026-01-09',
    })
    expect(acted(model, 'link', { ...wanted(idOf(model, 'Pour')), target: idOf(model, 'Roof') })).toMatchObject({
      along: ['3.1 Roof: 8 Jan 2026 → 15 Jan 2026', 'The plan ends 15 Jan 2026 instead of 9 Jan 2026.'],
    })
    expect(acted(model, 'no such action', wanted())).toEqual({ refused: 'It is no longer there.' })
  })

  it('pulls what its picture has drawn, and by a key as little as changes anything', () => {
    const model = withView(MODEL)
    const scene = schedule.pictures[0]?.draw(model, view, DAY)
    const bar = scene?.items.find(({ facts, handles }) => facts[0] === idOf(model, 'Dig') && handles?.length)
    const handle = bar?.handles?.find(({ id }) => id.startsWith('finish'))
    if (!bar || !handle) throw new Error('no bar')
    const { box } = bar
    const at = { x: box.x + box.width, y: box.y }
    const pull = (x: number) =>
      pulled(model, { handle: handle.id, box, by: { x, y: 0 }, at }, wanted(idOf(model, 'Dig')))
    expect(datesOf(after(model, pull(60)), 'Dig')).not.toEqual(datesOf(model, 'Dig'))
    const nudge = { handle: handle.id, box, from: at }
    const longer = nudged(model, { ...nudge, towards: 1 }, wanted(idOf(model, 'Dig')))
    expect(longer).toMatchObject({ change: { label: '“Dig” takes 4d' } })
    expect(nudged(model, { ...nudge, towards: -1 }, wanted(idOf(model, 'Dig')))).toMatchObject({
      change: { label: '“Dig” takes 2d' },
    })
    const gone = pulled(
      model,
      { handle: handle.id, box, by: at, at },
      { ...wanted(idOf(model, 'Dig')), view: 'x' as Id },
    )
    expect(isRefusal(gone)).toBe(true)
  })

  it('tells what the columns of a register say, row by row', () => {
    const model = withView(MODEL)
    const { rows, columns } = reckonedIn(model, 'tasks', view, DAY)
    expect(rows.map((row) => model.entities.get(row)?.name)).toEqual(['Dig', 'Pour', 'Yard', 'Roof'])
    expect(columns).toMatchObject({
      duration: ['3d', '2d', '4d', '4d'],
      early: ['2026-01-05', '2026-01-08', '2026-01-05', '2026-01-05'],
      finished: ['2026-01-07', '2026-01-09', '2026-01-08', '2026-01-08'],
      float: [0, 0, undefined, 1],
      critical: ['yes', 'yes', undefined, undefined],
    })
    const [heading, first] = cellsIn(model, 'tasks', view, DAY)
    expect(first?.[heading?.indexOf('Finish') ?? 0]).toBe('2026-01-07')
  })
})
