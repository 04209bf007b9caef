import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { isStyled, plainOf, textWidth, withSign, wrap, wrapStyled, type Run } from '../../../src/core/scene'

/** Lines as text, strong words in capitals between signs of their own, so that a mistake is seen. */
const seen = (text: string, width = 10_000, most = 9): string =>
  wrapStyled(text, width, 10, 'text400', most)
    .map((runs) => runs.map(markedUp).join(''))
    .join('|')
const markedUp = ({ words, isStrong, isSlanted }: Run) => {
  const strong = isStrong ? `<b>${words}</b>` : words
  return isSlanted ? `<i>${strong}</i>` : strong
}

describe('styled text', () => {
  // CommonMark 0.31, section 6.2, as far as it is read; within words it differs, as said beside each.
  it.each([
    ['*foo bar*', '<i>foo bar</i>'],
    ['a * foo bar*', 'a * foo bar*'],
    ['**foo bar**', '<b>foo bar</b>'],
    ['** foo bar**', '** foo bar**'],
    ['**foo bar **', '**foo bar **'],
    ['***foo bar***', '<i><b>foo bar</b></i>'],
    ['**foo *bar* baz**', '<b>foo </b><i><b>bar </b></i><b>baz</b>'],
    ['*foo **bar***', '<i>foo </i><i><b>bar</b></i>'],
    ['(**strong**)', '(<b>strong</b>)'],
    ['\\*not slanted\\*', '*not slanted*'],
    ['a \\\\ b', 'a \\ b'],
    ['foo*', 'foo*'],
    ['**foo*', '**foo*'],
    // Within a word a star is a star, where CommonMark would set it.
    ['2*3*4', '2*3*4'],
    ['un*frigging*believable', 'un*frigging*believable'],
    ['un*frigging believable*', 'un*frigging believable*'],
    ['a**b c**', 'a**b c**'],
    ['one \\ two \\ three', 'one|two|three'],
    ['C:\\temp', 'C:\\temp'],
    ['ends \\', 'ends \\'],
    ['**both \\ lines**', '<b>both</b>|<b>lines</b>'],
    ['****', '****'],
    ['', ''],
  ])('reads %j as %j', (text, lines) => {
    expect(seen(text)).toBe(lines)
  })

  it('is plain for those who hear it or look for it', () => {
    expect(plainOf('**Tell** the *master* \\ of the port')).toBe('Tell the master of the port')
    expect(isStyled('2*3*4')).toBe(false)
    expect(isStyled('*x*')).toBe(true)
  })

  const words = fc
    .array(
      fc.constantFrom('a', 'berth', '*slack*', '**strong**', '***both***', '*', '**', '\\', 'Wasser,', '(x)', 'ж'),
      {
        maxLength: 20,
      },
    )
    .map((list) => list.join(' '))
  it('sets every letter once, in lines no wider than they may be, and as plain text where nothing is said', () =>
    fc.assert(
      fc.property(words, fc.integer({ min: 60, max: 400 }), (text, width) => {
        const lines = wrapStyled(text, width, 10, 'text400', 99)
        const told = lines.map((runs) => runs.map((run) => run.words).join(''))
        expect(told.join('').replace(/\s/g, '')).toBe(plainOf(text).replace(/\s/g, ''))
        for (const runs of lines)
          expect(
            runs.reduce((sum, run) => sum + textWidth(run.words, 10, run.isStrong ? 'text700' : 'text400'), 0),
          ).toBeLessThanOrEqual(width + 3)
        if (!/[*\\]/.test(text)) expect(told).toEqual(wrap(text, width, 10, 'text400', 99))
      }),
    ))
  it('keeps lines of strong words within their width', () => {
    const text = '**Wind Mast Wharf Marsh Wherry Wake** and so on'
    for (let width = 60; width < 260; width += 7)
      for (const runs of wrapStyled(text, width, 10, 'text400', 99))
        expect(
          runs.reduce((sum, run) => sum + textWidth(run.words, 10, run.isStrong ? 'text700' : 'text400'), 0),
        ).toBeLessThanOrEqual(width + 0.01)
  })
  it('ends in an ellipsis where there is no room, and takes no time for many signs', () => {
    expect(seen('**one two three four five six seven**', 60, 1)).toMatch(/^<b>one two.*…<\/b>$/)
    expect(seen('one \\ two \\ three', 100, 2)).toBe('one|two')
    const begun = performance.now()
    plainOf('*a **b '.repeat(30_000))
    expect(performance.now() - begun).toBeLessThan(2000)
  })

  it.each([
    ['tell the master', 5, 8, '**', 'tell **the** master', 7, 10],
    ['tell **the** master', 7, 10, '**', 'tell the master', 5, 8],
    ['tell **the** master', 7, 10, '*', 'tell ***the*** master', 8, 11],
    ['tell ***the*** master', 8, 11, '*', 'tell **the** master', 7, 10],
    ['tell ***the*** master', 8, 11, '**', 'tell *the* master', 6, 9],
    ['tell the master', 4, 9, '*', 'tell *the* master', 6, 9],
    ['tell the', 8, 8, '**', 'tell the****', 10, 10],
    ['tell the master', 4, 4, ' \\ ', 'tell \\ the master', 7, 7],
    ['tell the master', 5, 8, ' \\ ', 'tell \\ master', 7, 7],
  ])('puts a sign into %j from %i to %i: %j', (text, start, end, sign, after, from, to) => {
    expect(withSign(text, start, end, sign)).toEqual({ text: after, start: from, end: to })
  })
})
