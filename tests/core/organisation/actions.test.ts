import { describe, expect, it } from 'vitest'
import { newErrors } from '../../../src/core/findings'
import type { Id, Model } from '../../../src/core/model'
import type { Outcome, Wish } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import {
  asText,
  carriedOut,
  DAY,
  day,
  done,
  facts,
  id,
  lineWith,
  listed,
  organisation,
  person,
  position,
  refusal,
  reports,
  tie,
  wishFor,
} from '../../facts'

const COMPANY = listed(`Ada — Head
  Ben — Assistant (assistant)
  Cleo — Operations
    Dan — Planner
    Dora — Driver
  Eva — Finance`)

const action = (name: string, model: Model, who: string, more: Partial<Wish> = {}): Outcome => {
  const one = organisation.actions.find((each) => each.id === name)
  if (!one) throw new Error(`no action ${name}`)
  return one.run(wishFor(model, { selection: [lineWith(model, who)], ...more }))
}
const to = (who: string): { target: Id } => ({ target: lineWith(COMPANY, who) })

describe('adding', () => {
  it('puts a report last among the reports, ready to be named', () => {
    const outcome = done(action('report', COMPANY, 'Cleo'))
    expect(outcome.edit).toBe('holder')
    expect(asText(carriedOut(COMPANY, outcome))).toContain('    Dora — Driver\n    \n  Eva')
  })
  it('puts a peer right after, and an assistant before the reports', () => {
    expect(asText(carriedOut(COMPANY, action('peer', COMPANY, 'Dan')))).toContain('    Dan — Planner\n    \n    Dora')
    expect(asText(carriedOut(COMPANY, action('assistant', COMPANY, 'Cleo')))).toContain(
      '  Cleo — Operations\n    (assistant)\n    Dan',
    )
  })
  it('takes over the unit of the one above', () => {
    const model = facts(position('m', { fields: { unit: 'Ports' } }))
    const outcome = organisation.actions[0]?.run(wishFor(model, { selection: [id('m')] })) ?? { refused: '' }
    expect(
      carriedOut(model, outcome)
        .ofKind('position')
        .map(({ fields }) => fields['unit']),
    ).toEqual(['Ports', 'Ports'])
  })
  it('wants exactly one position', () => {
    const report = organisation.actions.find(({ id: name }) => name === 'report')
    expect(report?.applies(wishFor(COMPANY, { selection: [] }))).toBe(false)
    expect(report?.applies(wishFor(COMPANY, { selection: [lineWith(COMPANY, 'Dan'), lineWith(COMPANY, 'Eva')] }))).toBe(
      false,
    )
  })
  it('takes a selected person for the position held', () => {
    const ada = COMPANY.ofKind('person').find(({ name }) => name === 'Cleo')
    const outcome = organisation.actions[0]?.run(wishFor(COMPANY, { selection: ada ? [ada.id] : [] }))
    expect(outcome && asText(carriedOut(COMPANY, outcome))).toContain('    Dora — Driver\n    \n  Eva')
  })
})

describe('handing over', () => {
  it('takes all reports along', () => {
    expect(asText(carriedOut(COMPANY, action('hand-over', COMPANY, 'Cleo', to('Eva'))))).toBe(
      'Ada — Head\n  Ben — Assistant (assistant)\n  Eva — Finance\n    Cleo — Operations\n      Dan — Planner\n      Dora — Driver',
    )
  })
  it('refuses a circle, itself, and what is so already, in words', () => {
    expect(refusal(action('hand-over', COMPANY, 'Cleo', to('Dan')))).toMatch(/circle/)
    expect(refusal(action('hand-over', COMPANY, 'Cleo', to('Cleo')))).toMatch(/itself/)
    expect(refusal(action('hand-over', COMPANY, 'Dan', to('Cleo')))).toMatch(/already/)
  })
  it('turns an assistant into a report, and a head into one', () => {
    expect(asText(carriedOut(COMPANY, action('hand-over', COMPANY, 'Ben', to('Eva'))))).toContain(
      '  Eva — Finance\n    Ben — Assistant',
    )
    const two = listed('A — One\nB — Two')
    expect(asText(carriedOut(two, action('hand-over', two, 'B', { target: lineWith(two, 'A') })))).toBe(
      'A — One\n  B — Two',
    )
  })
  it('would add an error where the new manager ends earlier, and says so before it is done', () => {
    const model = facts(
      position('a'),
      position('m', { to: day('2027-01-31') }),
      position('r'),
      reports('m', 'a', { to: day('2027-01-31') }),
      reports('r', 'a'),
    )
    const outcome = done(
      organisation.pictures[0]?.drop?.(wishFor(model, { selection: [id('r')], target: id('m') })) ?? {
        refused: 'no drop',
      },
    )
    expect(newErrors(registry, model, outcome.change, DAY).map(({ rule }) => rule)).toEqual([
      'org/manager-not-in-force',
    ])
  })
  it('from the day shown on ends the line so far the day before', () => {
    const model = carriedOut(COMPANY, action('hand-over-from', COMPANY, 'Dan', to('Eva')))
    const before = asText(model, day('2026-11-23'))
    expect([before.includes('Eva — Finance\n    Dan'), asText(model).includes('Eva — Finance\n    Dan')]).toEqual([
      false,
      true,
    ])
  })
})

describe('ending and removing', () => {
  it('ends a position with its own lines and its holder', () => {
    const model = carriedOut(COMPANY, action('end', COMPANY, 'Dan'))
    expect(asText(model)).toContain('Dan')
    expect(asText(model, day('2026-11-25'))).not.toContain('Dan')
    expect(newErrors(registry, COMPANY, done(action('end', COMPANY, 'Dan')).change, day('2026-11-25'))).toEqual([])
  })
  it('shows as facts who loses a manager', () => {
    expect(done(action('end', COMPANY, 'Cleo')).spreads).toHaveLength(2)
    expect(done(action('end', COMPANY, 'Dan')).spreads).toBeUndefined()
    expect(done(action('remove', COMPANY, 'Cleo')).spreads).toEqual([
      '“Operations” is removed, with all its dates.',
      '“Planner” reports to “Head”.',
      '“Driver” reports to “Head”.',
    ])
  })
  it('leaves no tie behind', () => {
    const model = carriedOut(COMPANY, action('remove', COMPANY, 'Cleo'))
    for (const { source, target } of model.relations.values())
      expect([model.entities.has(source), model.entities.has(target)]).toEqual([true, true])
  })
  it('keeps a person who holds another position, and clears the views of the branch', () => {
    const root = { ...wishFor(facts()).view, id: id('branch'), scope: { root: 'a' } }
    const model = facts(
      position('a'),
      position('b'),
      reports('a', 'b'),
      person('p'),
      tie('holds', 'p', 'a'),
      tie('holds', 'p', 'b'),
    ).with({ views: new Map([[root.id, root]]) })
    const gone = carriedOut(
      model,
      organisation.actions.find((one) => one.id === 'remove')?.run(wishFor(model, { selection: [id('a')] })) ?? {
        refused: '',
      },
    )
    expect(gone.ofKind('person')).toHaveLength(1)
    expect(gone.views.get(id('branch'))?.scope).toEqual({})
  })
})

describe('a dotted line', () => {
  it('is drawn once, and taken away again', () => {
    const model = carriedOut(COMPANY, action('dotted', COMPANY, 'Dan', to('Eva')))
    expect(refusal(action('dotted', model, 'Dan', to('Eva')))).toMatch(/already/)
    expect(asText(carriedOut(model, action('undotted', model, 'Dan')))).toBe(asText(COMPANY))
  })
})

describe('swapping', () => {
  it('lets two people change places', () => {
    expect(asText(carriedOut(COMPANY, action('swap', COMPANY, 'Dan', to('Eva'))))).toBe(
      asText(COMPANY)
        .replace('Dan — Planner', 'X — Planner')
        .replace('Eva — Finance', 'Dan — Finance')
        .replace('X —', 'Eva —'),
    )
  })
  it('refuses itself, and two vacancies', () => {
    expect(refusal(action('swap', COMPANY, 'Dan', to('Dan')))).toMatch(/itself/)
    const empty = listed('vacant — One\n  vacant — Two')
    expect(refusal(action('swap', empty, 'One', { target: lineWith(empty, 'Two') }))).toMatch(/Nobody/)
  })
})

describe('handing over alone', () => {
  it('leaves the reports with the old manager, and says so as facts', () => {
    const outcome = done(action('hand-over-alone', COMPANY, 'Cleo', to('Eva')))
    expect(outcome.spreads).toEqual(['Dan reports to “Head”.', 'Dora reports to “Head”.'])
    expect(asText(carriedOut(COMPANY, outcome))).toBe(
      'Ada — Head\n  Ben — Assistant (assistant)\n  Eva — Finance\n    Cleo — Operations\n  Dan — Planner\n  Dora — Driver',
    )
  })
  it('goes even to one of its own reports', () => {
    const outcome = action('hand-over-alone', COMPANY, 'Cleo', to('Dan'))
    expect(asText(carriedOut(COMPANY, outcome))).toContain('  Dan — Planner\n    Cleo — Operations')
  })
})

describe('handing over a branch by key', () => {
  it('shows first who comes along', () => {
    expect(done(action('hand-over', COMPANY, 'Cleo', to('Eva'))).spreads).toEqual([
      'Cleo reports to “Finance” instead of “Head”.',
      '2 positions below come along: Dan, Dora.',
    ])
    expect(done(action('hand-over', COMPANY, 'Dan', to('Eva'))).spreads).toBeUndefined()
  })
})

describe('appointing', () => {
  const model = facts(
    position('post'),
    person('old'),
    person('new'),
    tie('holds', 'old', 'post', { from: day('2025-01-01') }),
  )
  const appoint = (who: string, on = DAY) =>
    organisation.actions
      .find(({ id: key }) => key === 'appoint')
      ?.run(wishFor(model, { selection: [id('post')], target: id(who), day: on })) ?? { refused: '' }
  it('begins on the day shown, and ends whoever held the post the day before', () => {
    const after = carriedOut(model, appoint('new'))
    expect(after.reaching(id('post'), 'holds').map(({ source, from, to }) => [source, from, to])).toEqual([
      ['old', '2025-01-01', '2026-11-23'],
      ['new', DAY, undefined],
    ])
    expect(asText(after, day('2026-11-23'))).toBe('old — post')
    expect(asText(after)).toBe('new — post')
  })
  it('of whoever holds it already is refused', () => expect(refusal(appoint('old'))).toBe('old holds “post” already.'))
  it('takes back a tenure that began on the same day', () => {
    expect(carriedOut(model, appoint('new', day('2025-01-01'))).reaching(id('post'), 'holds')).toHaveLength(1)
  })
})

describe('folding', () => {
  it('is kept in the view, and taken back by the same key', () => {
    const folded = carriedOut(COMPANY, action('fold', COMPANY, 'Cleo'))
    const view = folded.views.get(id('view'))
    if (!view) throw new Error('no view')
    expect(Object.values(view.scope)).toEqual([true])
    const fold = organisation.actions.find(({ id: key }) => key === 'fold')
    const outcome = fold?.run(wishFor(folded, { view, selection: [lineWith(folded, 'Cleo')] })) ?? { refused: '' }
    expect(carriedOut(folded, outcome).views.get(id('view'))?.scope).toEqual({})
  })
})
