import fc from 'fast-check'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { leaveBlank, noteBlank, settle, typeLine } from '../../src/app/registers/typing'
import { undo, make, wish } from '../../src/app/store/changes'
import { useWorkspace } from '../../src/app/store/state'
import { apply, Model, type Id, type View } from '../../src/core/model'
import { isRefusal, type Outline } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import { DAY, id, numbering } from '../facts'

// The page's folds are read from it as they are loaded.
vi.hoisted(() => void ((globalThis as { localStorage?: unknown }).localStorage ??= { getItem: () => null }))

/** A list, and what may be typed into one of its lines. */
interface Place {
  readonly notation: string
  readonly picture: string
  readonly list: string
  readonly line: number
  readonly typed: readonly string[]
}
const PLACES: readonly Place[] = [
  {
    notation: 'schedule',
    picture: 'bars',
    list: 'Buy gloves  1d\nPaint  2d  @ Ada Holm\nDry  3d',
    line: 0,
    typed: ['Buy gloves  1d  @ Marta Kuhn', 'Buy  @ Ada Holm & Marta', 'Buy gloves  2d'],
  },
  {
    notation: 'process',
    picture: 'lanes',
    list: 'Check @ Desk\nApprove @ Boss\nFile @ Desk',
    line: 2,
    typed: ['Approve @ Night desk', 'Approve @ Desk', 'Approve'],
  },
  {
    notation: 'process',
    picture: 'lanes',
    list: 'Check\nIs it right?\n  yes\n    Pay\n  no\n    Refuse\nFile',
    line: 2,
    typed: ['yes: go to Refuse', 'never', 'no'],
  },
  {
    notation: 'uml',
    picture: 'sequence',
    list: 'Desk asks Ledger: book()\nLedger answers Desk: done',
    line: 0,
    typed: ['Desk asks Till: pay()', 'Clerk asks Ledger: book()', 'Desk tells Ledger: book()'],
  },
  {
    notation: 'uml',
    picture: 'states',
    list: 'Open\n  on close -> Closed\nClosed',
    line: 1,
    typed: ['on close -> Locked', 'on shut -> Closed', 'on close [late] -> Shut'],
  },
  {
    notation: 'uml',
    picture: 'use-cases',
    list: 'Passenger: Book a ticket\nBook a ticket\n  includes Pay',
    line: 2,
    typed: ['includes Log in', 'includes Pay', 'extends Ask'],
  },
  {
    notation: 'uml',
    picture: 'components',
    list: 'Shop\n  provides Orders\nLedger\n  requires Orders',
    line: 1,
    typed: ['provides Booking', 'requires Booking', 'provides Orders'],
  },
  {
    notation: 'uml',
    picture: 'classes',
    list: 'Ticket\n  + price : Money\nFare\n  is a Ticket',
    line: 3,
    typed: ['is a Document', 'is a Ticket', '+ cost : Money'],
  },
  {
    notation: 'figure',
    picture: 'concepts',
    list: 'Tide\n  moves: Water\nWater',
    line: 1,
    typed: ['moves: Sand', 'moves: Water', 'hides: Rock'],
  },
  {
    notation: 'network',
    picture: 'zones',
    list: 'sw-1  switch\nfw-1  firewall\nsw-1 to fw-1',
    line: 2,
    typed: ['sw-1 to fw-9', 'sw-1 to fw-1', 'sw-1 port 1 to fw-1'],
  },
  {
    notation: 'organisation',
    picture: 'tree',
    list: 'Ada Holm — Head\n  Ben Aas — Clerk\n  vacant — Driver',
    line: 2,
    typed: ['Cleo Moe — Driver', 'Ada Holm & Cleo Moe — Driver', 'vacant — Night driver'],
  },
]

const outlineOf = ({ notation }: Place): Outline => {
  const outline = registry.notations.find(({ id: one }) => one === notation)?.outline
  if (!outline) throw new Error(`no outline in ${notation}`)
  return outline
}
function viewOf({ notation, picture }: Place): View {
  const more = { title: 'Of a test', order: 1, scope: {}, options: {}, pins: {}, look: {} }
  return { id: id('view'), notation, picture, ...more }
}

/** The facts of a list, and the line that is typed into. */
function begun(place: Place): { model: Model; line: Id } {
  const outline = outlineOf(place)
  const view = viewOf(place)
  const empty = Model.of({ views: [view] })
  const outcome = outline.paste(
    { model: empty, view, day: DAY, selection: [], newId: numbering('list') },
    undefined,
    place.list,
  )
  if (isRefusal(outcome)) throw new Error(`${place.list}: ${outcome.refused}`)
  const { model } = apply(empty, outcome.change)
  const line = outline.lines(model, model.views.get(view.id) ?? view, DAY)[place.line]
  if (!line) throw new Error(`no line ${place.line} in ${place.list}`)
  return { model, line: line.id }
}

/** All facts by kind and name, each as often as it is there. */
const factsOf = ({ entities }: Model) => [...entities.values()].map(({ kind, name }) => `${kind} ${name}`).sort()

function open(place: Place): Id {
  const { model, line } = begun(place)
  useWorkspace.setState({ model, day: DAY, viewId: id('view'), selection: [], undoable: [], redoable: [] })
  return line
}
const shown = (place: Place) => {
  const { model } = useWorkspace.getState()
  return outlineOf(place).lines(model, model.views.get(id('view')) ?? viewOf(place), DAY)
}

const saidBy = (place: Place, line: Id) => shown(place).find(({ id: one }) => one === line)?.text ?? ''

beforeEach(() => void vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance'] }))
afterEach(() => {
  settle()
  vi.useRealTimers()
})

type Act = { readonly does: 'type' | 'rub out' | 'wait' | 'rest' | 'leave' | 'undo'; readonly times: number }
const acts = fc.array(
  fc.record({
    does: fc.constantFrom<Act['does']>('type', 'type', 'type', 'rub out', 'wait', 'rest', 'leave', 'undo'),
    times: fc.integer({ min: 1, max: 8 }),
  }),
  { maxLength: 25 },
)

describe('what is typed into a line', () => {
  describe.each(PLACES.map((place) => [`${place.picture}: ${place.typed[0]}`, place] as const))('%s', (_, place) => {
    it('leaves no fact that no line names, whatever was typed on the way', () => {
      fc.assert(
        fc.property(acts, fc.constantFrom(...place.typed), fc.constantFrom(...place.typed), (list, aimed, last) => {
          let line = open(place)
          let text = saidBy(place, line)
          const type = (next: string) => {
            text = next
            line = typeLine(outlineOf(place), line, text, (now) => (line = now))
          }
          for (const { does, times } of list)
            for (let at = 0; at < times; at++)
              if (does === 'type') type(aimed.startsWith(text) ? aimed.slice(0, text.length + 1) : text.slice(0, -1))
              else if (does === 'rub out') type(text.slice(0, -1))
              else if (does === 'wait') vi.advanceTimersByTime(300)
              else if (does === 'rest') vi.advanceTimersByTime(1000)
              else {
                line = settle() ?? line
                if (does === 'undo' && useWorkspace.getState().undoable.length > 0) {
                  undo()
                  // The line may be what it was before.
                  if (!shown(place).some(({ id: one }) => one === line)) line = shown(place)[place.line]?.id ?? line
                }
              }
          for (let length = 1; length <= last.length; length++) type(last.slice(0, length))
          line = settle() ?? line
          const { model } = useWorkspace.getState()
          const before = begun(place)
          const asked = { model: before.model, view: viewOf(place), day: DAY, selection: [], newId: numbering('m') }
          const view = before.model.views.get(id('view')) ?? asked.view
          // Taken back in between, a line may say what it said on the way.
          const says = list.some(({ does }) => does === 'undo') ? saidBy(place, line) : last
          const straight = outlineOf(place).write({ ...asked, view }, before.line, says)
          if (isRefusal(straight)) throw new Error(straight.refused)
          expect(factsOf(model)).toEqual(factsOf(apply(before.model, straight.change).model))
        }),
        { numRuns: 60 },
      )
    })

    it('states nobody while it is typed, and all of it a moment after', () => {
      const before = open(place)
      const known = new Set(factsOf(useWorkspace.getState().model))
      const [typed = ''] = place.typed
      let line = before
      for (let length = 1; length <= typed.length; length++) {
        line = typeLine(outlineOf(place), line, typed.slice(0, length), (now) => (line = now))
        const fresh = factsOf(useWorkspace.getState().model).filter((one) => !known.has(one))
        // But for what the line itself is called.
        expect(fresh.length).toBeLessThanOrEqual(1)
        vi.advanceTimersByTime(100)
      }
      vi.advanceTimersByTime(1000)
      expect(saidBy(place, settle() ?? line)).toBe(typed)
    })
  })

  it('goes in one undo with what it named', () => {
    const place = PLACES[0] as Place
    const before = open(place)
    const facts = factsOf(useWorkspace.getState().model)
    for (const part of ['Buy gloves  1d  @ Mar', 'Buy gloves  1d  @ Marta Kuhn']) {
      typeLine(outlineOf(place), before, part, () => undefined)
      vi.advanceTimersByTime(5000)
    }
    expect(factsOf(useWorkspace.getState().model)).toEqual([...facts, 'person Marta Kuhn'].sort())
    undo()
    expect(factsOf(useWorkspace.getState().model)).toEqual(facts)
  })

  it('goes when the line is come back to and names somebody else', () => {
    const place = PLACES[0] as Place
    const line = open(place)
    for (const text of ['Buy gloves  1d  @ Marta Kuh', 'Buy gloves  1d  @ Marta Kuhn']) {
      typeLine(outlineOf(place), line, text, () => undefined)
      settle()
      // Something else is done in between.
      make({
        label: 'Dry',
        steps: [{ do: 'set-entity', id: shown(place)[2]?.id ?? line, path: 'name', value: text.slice(-4) }],
      })
    }
    expect(factsOf(useWorkspace.getState().model).filter((one) => one.startsWith('person'))).toEqual([
      'person Ada Holm',
      'person Marta Kuhn',
    ])
  })

  it('stands where it stood before, when what was named in a pause is rubbed out again', () => {
    const place = PLACES[1] as Place
    const line = open(place)
    for (const text of ['Approve @ N', 'Approve @ Night desk', 'Approve']) {
      typeLine(outlineOf(place), line, text, () => undefined)
      vi.advanceTimersByTime(1000)
    }
    expect(saidBy(place, line)).toBe('Approve @ Boss')
    expect(factsOf(useWorkspace.getState().model).filter((one) => one.startsWith('lane'))).toEqual([
      'lane Boss',
      'lane Desk',
    ])
  })

  it('renames nobody who is called by a part of what is typed', () => {
    const place: Place = {
      ...(PLACES.at(-1) as Place),
      list: 'Ada Holm — Head\n  Ben Aas — Clerk\n  Ann — Driver',
      line: 1,
    }
    const line = open(place)
    for (let length = 1; length <= 'Anna Lie — Clerk'.length; length++) {
      typeLine(outlineOf(place), line, 'Anna Lie — Clerk'.slice(0, length), () => undefined)
      vi.advanceTimersByTime(length === 3 ? 5000 : 50)
    }
    settle()
    expect(shown(place).map(({ text }) => text)).toEqual(['Ada Holm — Head', 'Anna Lie — Clerk', 'Ann — Driver'])
    expect(factsOf(useWorkspace.getState().model).filter((one) => one.startsWith('person'))).toEqual([
      'person Ada Holm',
      'person Ann',
      'person Anna Lie',
    ])
  })

  it('is said on what others have changed meanwhile', () => {
    const place = PLACES[0] as Place
    const line = open(place)
    const type = (text: string) => {
      typeLine(outlineOf(place), line, text, () => undefined)
      vi.advanceTimersByTime(1000)
    }
    type('Buy gloves  1d  @ Marta')
    // News of others leave no trace among what can be taken back.
    const { model } = useWorkspace.getState()
    const nils = { id: id('nils'), kind: 'person', name: 'Nils Bo', fields: {} }
    const news = { label: '', steps: [{ do: 'add-entity', entity: nils }] } as const
    useWorkspace.setState({ model: apply(model, news).model })
    for (const text of ['Buy gloves  2d  @ Marta', 'Buy gloves  2d  @ Nils Bo', 'Buy gloves  2d  @ Nils Bo, Marta K'])
      type(text)
    expect(saidBy(place, line)).toBe('Buy gloves  2d  @ Nils Bo, Marta K')
    expect(factsOf(useWorkspace.getState().model).filter((one) => one.startsWith('person'))).toEqual([
      'person Ada Holm',
      'person Marta K',
      'person Nils Bo',
    ])
  })

  it('leaves somebody alone whom a line has made and something else speaks of by now', () => {
    const place = PLACES[0] as Place
    const line = open(place)
    typeLine(outlineOf(place), line, 'Buy gloves  1d  @ Marta Kuhn', () => undefined)
    settle()
    const marta = [...useWorkspace.getState().model.entities.values()].find(({ name }) => name === 'Marta Kuhn')
    make({
      label: 'Address',
      steps: [{ do: 'set-entity', id: marta?.id ?? id('?'), path: 'fields.email', value: 'm@x.example' }],
    })
    typeLine(outlineOf(place), line, 'Buy gloves  1d', () => undefined)
    settle()
    expect(factsOf(useWorkspace.getState().model)).toContain('person Marta Kuhn')
  })
})

describe('a line that is added', () => {
  it('and left without a word is gone, and nothing of it is taken back or made again', () => {
    for (const place of PLACES) {
      const above = open(place)
      const before = factsOf(useWorkspace.getState().model)
      const asked = wish()
      const outcome = asked && outlineOf(place).insert(asked, above, '')
      if (!outcome || isRefusal(outcome) || outcome.select === undefined) throw new Error(place.list)
      make(outcome.change)
      noteBlank(outcome.select, outcome.change)
      expect(leaveBlank(outlineOf(place), outcome.select), place.list).toBe(true)
      expect(factsOf(useWorkspace.getState().model), place.list).toEqual(before)
      expect(useWorkspace.getState().undoable).toEqual([])
      expect(useWorkspace.getState().redoable).toEqual([])
    }
  })

  it('and typed into stays', () => {
    const place = PLACES[0] as Place
    const above = open(place)
    const asked = wish()
    const outcome = asked && outlineOf(place).insert(asked, above, '')
    if (!outcome || isRefusal(outcome) || outcome.select === undefined) throw new Error(place.list)
    make(outcome.change)
    noteBlank(outcome.select, outcome.change)
    typeLine(outlineOf(place), outcome.select, 'Sweep', () => undefined)
    expect(leaveBlank(outlineOf(place), outcome.select)).toBe(false)
    expect(factsOf(useWorkspace.getState().model)).toContain('task Sweep')
  })
})
