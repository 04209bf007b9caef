import { describe, expect, it } from 'vitest'
import { findingsOf } from '../../../src/core/findings'
import { registry } from '../../../src/core/notations'
import { readLine } from '../../../src/core/notations/organisation/words'
import {
  asText,
  carriedOut,
  DAY,
  done,
  facts,
  lineWith,
  listed,
  outline,
  position,
  refusal,
  reports,
  wishFor,
} from '../../facts'

const COMPANY = `Ada Holm — Head
  Ben Aas — Assistant (assistant)
  Cleo Moe — Operations
    Dan Lie — Planner
    vacant — Driver
  Eva Nes — Finance`

describe('an outline', () => {
  it('gives back the list it was made from', () => expect(asText(listed(COMPANY))).toBe(COMPANY))

  it('takes bullets, numbers, tabs and uneven indents', () => {
    const pasted = '• Ada Holm — Head\n\t- Cleo Moe – Operations\n\t\t1. Dan Lie - Planner\n\t* Eva Nes -- Finance\n'
    expect(asText(listed(pasted))).toBe(
      'Ada Holm — Head\n  Cleo Moe — Operations\n    Dan Lie — Planner\n  Eva Nes — Finance',
    )
  })

  it('reads a line without a dash as a person', () => {
    const held = (name: string, acting = false) => ({ name, acting })
    expect(readLine('Ada Holm')).toEqual({ holders: [held('Ada Holm')], title: 'Untitled', assistant: false })
    expect(readLine('vacant — Driver')).toMatchObject({ holders: [], title: 'Driver' })
    expect(readLine('Ada Holm — Head (acting)')).toMatchObject({ title: 'Head', holders: [held('Ada Holm', true)] })
    expect(readLine('Jean-Luc Bø — Vice-head')).toMatchObject({ holders: [held('Jean-Luc Bø')], title: 'Vice-head' })
    expect(readLine('Ada Holm & Bo Aas (acting) — Head').holders).toEqual([held('Ada Holm'), held('Bo Aas', true)])
    expect(readLine('"Ada — of Holm" — Head')).toMatchObject({ holders: [held('Ada — of Holm')], title: 'Head' })
  })

  it('puts a line a level down under the line above, and up again beside it', () => {
    const model = listed(COMPANY)
    const eva = lineWith(model, 'Eva')
    const down = carriedOut(model, outline.indent(wishFor(model), eva))
    expect(asText(down)).toContain('    vacant — Driver\n    Eva Nes — Finance')
    const up = carriedOut(down, outline.outdent(wishFor(down), eva))
    expect(asText(up)).toBe(COMPANY)
    expect(refusal(outline.outdent(wishFor(model), lineWith(model, 'Ada')))).toMatch(/top level/)
  })

  it('inserts beneath a line on its level, with what hangs below the line left in place', () => {
    const model = listed(COMPANY)
    const made = carriedOut(model, outline.insert(wishFor(model), lineWith(model, 'Cleo'), 'New — Safety'))
    expect(asText(made)).toBe(COMPANY.replace('  Eva', '  New — Safety\n  Eva'))
  })

  it('moves a line among its peers and stops at the ends', () => {
    const model = listed(COMPANY)
    const moved = carriedOut(model, outline.move(wishFor(model), lineWith(model, 'Eva'), -1))
    expect(asText(moved)).toBe(
      'Ada Holm — Head\n  Ben Aas — Assistant (assistant)\n  Eva Nes — Finance\n  Cleo Moe — Operations\n    Dan Lie — Planner\n    vacant — Driver',
    )
    expect(refusal(outline.move(wishFor(model), lineWith(model, 'Eva'), 1))).toMatch(/last/)
  })

  it('writes who begins and who leaves a post that several hold, and renames who is left', () => {
    const model = listed('Ada Holm & Bo Aas — Head')
    const write = (text: string) => carriedOut(model, outline.write(wishFor(model), lineWith(model, 'Ada'), text))
    expect(asText(write('Ada Holm & Bo Berg & Cleo Moe — Head'))).toBe('Ada Holm & Bo Berg & Cleo Moe — Head')
    expect(write('Ada Holm & Bo Berg — Head').ofKind('person').length).toBe(2)
    expect(
      write('Bo Aas — Head')
        .ofKind('person')
        .map(({ name }) => name),
    ).toEqual(['Bo Aas'])
  })

  it('writes a name, a title, a vacancy and an assistant', () => {
    const model = listed(COMPANY)
    const write = (from: typeof model, line: string, text: string) =>
      carriedOut(from, outline.write(wishFor(from), lineWith(from, line), text))
    const renamed = write(model, 'Dan', 'Dana Lie — Roster planner')
    expect(renamed.ofKind('person').length).toBe(model.ofKind('person').length)
    const vacated = write(renamed, 'Eva', 'vacant — Finance')
    expect(vacated.ofKind('person').map(({ name }) => name)).not.toContain('Eva Nes')
    const assisting = write(vacated, 'Driver', 'Finn Bo — Driver (assistant)')
    expect(asText(assisting)).toContain('    Finn Bo — Driver (assistant)\n    Dana Lie — Roster planner')
  })

  it('gives the reports of a removed line to the one above it', () => {
    const model = listed(COMPANY)
    const less = carriedOut(model, outline.remove(wishFor(model), lineWith(model, 'Cleo')))
    expect(asText(less)).not.toContain('Cleo')
    expect(less.ofKind('person').map(({ name }) => name)).not.toContain('Cleo Moe')
    expect(
      asText(less)
        .split('\n')
        .filter((line) => /^ {2}\S/.test(line)),
    ).toHaveLength(4)
  })

  it('pastes a list between two lines', () => {
    const model = listed(COMPANY)
    const pasted = carriedOut(
      model,
      outline.paste(wishFor(model), lineWith(model, 'Cleo'), 'X — One\n  Y — Two\nZ — Three'),
    )
    expect(asText(pasted)).toBe(COMPANY.replace('  Eva', '  X — One\n    Y — Two\n  Z — Three\n  Eva'))
  })

  it('refuses a paste of megabytes, too many lines and endless names, and changes nothing', () => {
    const model = listed(COMPANY)
    const paste = (text: string) => refusal(outline.paste(wishFor(model), undefined, text))
    expect(paste('x\n'.repeat(5_000_000))).toMatch(/too many/)
    expect(paste('Ada — Head\n'.repeat(20_001))).toMatch(/more than 20,000 lines/)
    expect(paste(`${'x'.repeat(3_000)} — Head`)).toMatch(/3,000 characters is not taken; 400/)
    expect(paste(`${'x'.repeat(10_000)} — Head`)).toMatch(/10,007 characters is not taken; 4,000/)
    expect(refusal(outline.write(wishFor(model), lineWith(model, 'Ada'), 'x'.repeat(10_000)))).toMatch(
      /10,000 characters/,
    )
    expect(paste('\n\n')).toMatch(/no line with text/)
  })

  it('keeps 300 lines in order when many are put in the same place', () => {
    let model = listed('Head\n  First\n  Last')
    const first = lineWith(model, 'First')
    for (let i = 0; i < 300; i++) {
      const wish = wishFor(model, { newId: () => `x${i}-${Math.random()}`.slice(0, 20) as never })
      model = carriedOut(model, outline.insert(wish, first, `N${i}`))
    }
    const lines = asText(model)
      .split('\n')
      .map((line) => line.trim())
    expect(lines.slice(1)).toEqual(['First', ...Array.from({ length: 300 }, (_, i) => `N${299 - i}`), 'Last'])
  })

  it('draws the facts of a circle without hanging, and says so', () => {
    const model = facts(
      position('a'),
      position('b'),
      position('c'),
      reports('a', 'b'),
      reports('b', 'c'),
      reports('c', 'a'),
    )
    expect(outline.lines(model, wishFor(model).view, DAY)).toHaveLength(3)
    expect(findingsOf(registry, model, DAY).map(({ rule }) => rule)).toContain('org/cycle')
    expect(done(outline.write(wishFor(model), lineWith(model, 'a'), 'A — Head')).change.steps.length).toBeGreaterThan(0)
  })
})
