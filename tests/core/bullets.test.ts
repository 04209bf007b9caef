import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { listText, readList } from '../../src/core/notation'

/** A list as it is read: two spaces for each level. */
const read = (text: string): string[] => {
  const lines = readList(text)
  if ('refused' in lines) throw new Error(lines.refused)
  return lines.map(({ depth, text: line }) => `${'  '.repeat(depth)}${line}`)
}

describe('what counts', () => {
  it('is dropped in a sequence with its neighbours', () => {
    for (const list of [
      '1. Berth\n2. Crew',
      '1) Berth\n2) Crew',
      '(1) Berth\n(2) Crew',
      '1.) Berth\n2.) Crew',
      'a. Berth\nb. Crew',
      'A) Berth\nB) Crew',
      'I. Berth\nII. Crew',
      'i) Berth\nii) Crew',
      '1.1 Berth\n1.2 Crew',
      '1.1. Berth\n1.2. Crew',
      '7. Berth\n8. Crew',
    ])
      expect(read(list)).toEqual(['Berth', 'Crew'])
    const letters = 'abcdefghij'.split('').map((letter) => `${letter}) ${letter.repeat(3)}`)
    expect(read(letters.join('\n'))).toEqual(letters.map((line) => line.slice(3)))
    const roman = ['i', 'ii', 'iii', 'iv', 'v', 'vi', 'vii', 'viii', 'ix', 'x', 'xi'].map((one) => `${one}. Berth`)
    expect(read(roman.join('\n'))).toEqual(roman.map(() => 'Berth'))
  })
  it('stays where it is none: initials, dates, figures, addresses, versions', () => {
    for (const line of [
      'A. Lovelace — Managing director',
      '24. December is a holiday',
      'V. Moss',
      '3 crew',
      '1.1 is out',
      '0.5 fte',
      '10.0.0.1 gateway',
      'I. Ferrand',
      '(a) berth',
    ])
      expect(read(line)).toEqual([line])
    for (const lines of [
      ['A. Abel, Master', 'C. Cole, Mate', 'D. Dunn, Cook'],
      ['M. Abel, Master', 'N. Cole, Mate'],
      ['R. Abel', 'R. Cole', 'R. Dunn'],
      ['24. December is a holiday', '25. December too'],
      ['1. Jan closed', '2. Jan open'],
      ['10.0.0.1 a', '10.0.0.2 b'],
      ['8.30 Coffee', '8.45 Talk'],
      ['3 crew', '4 crew'],
      ['1. Berth', 'Crew', 'and more'],
      ['192.168.1.1 a', '192.168.1.2 b'],
    ])
      expect(read(lines.join('\n'))).toEqual(lines)
  })
  it('tells the level where the text has none', () => {
    expect(read('1. Deck\n1.1 Master\n1.2 Mate\n1.2.1 Hand\n2. Engine\n2.1 Chief')).toEqual([
      'Deck',
      '  Master',
      '  Mate',
      '    Hand',
      'Engine',
      '  Chief',
    ])
    expect(read('1 Deck\n1.1 Master\n2 Engine')).toEqual(['Deck', '  Master', 'Engine'])
    expect(read('1. Deck\na) Master\nb) Mate\n2. Engine')).toEqual(['Deck', '  Master', '  Mate', 'Engine'])
    expect(read('1. Deck\n  1.1. Master\n2. Engine')).toEqual(['Deck', '  Master', 'Engine'])
    expect(read('1. Deck\n2. Engine\n1. Hotel\n2. Shore')).toEqual(['Deck', 'Engine', 'Hotel', 'Shore'])
    expect(read('1.1 Deck\n1.2 Engine\n2.1 Hotel\n2.2 Shore')).toEqual(['Deck', 'Engine', 'Hotel', 'Shore'])
    expect(read('• Deck\no\tMaster\n▪ Hand\no\tMate\n• Engine')).toEqual([
      'Deck',
      '  Master',
      '    Hand',
      '  Mate',
      'Engine',
    ])
    expect(read('- Deck\n  1. Master\n- Engine\n  1. May is closed\n  A. Cole')).toEqual([
      'Deck',
      '  Master',
      'Engine',
      '  1. May is closed',
      '  A. Cole',
    ])
    expect(read('3 crew\n• Master')).toEqual(['3 crew', 'Master'])
  })
})

describe('signs', () => {
  it('of documents, mails and chats are dropped, with the boxes to tick behind them', () => {
    for (const sign of [...'-*•◦▪‣·–●■□○➢✓✔→☐☑\uf0b7\uf0a7', 'o\t', '- [ ]', '- [x]', '* [X]', '- ☐', '• ✓'])
      expect(read(`${sign} Berth`)).toEqual(['Berth'])
    expect(read('✓ Berth\n☐ Crew\n→ Fuel')).toEqual(['Berth', 'Crew', 'Fuel'])
    expect(read('- Berth\n* Crew')).toEqual(['Berth', 'Crew'])
  })
  it('alone say nothing', () => {
    expect(read('• Berth\n•\n-\n• Crew\n☐')).toEqual(['Berth', 'Crew'])
    expect(read('Berth?\n  –\n    Crew')).toEqual(['Berth?', '  –', '    Crew'])
    expect(read('1. Berth\n2.\n3. Crew')).toEqual(['Berth', 'Crew'])
  })
  it('are none within a word', () => {
    for (const line of ['-> Overdue', 'o Berth', 'oil', '-5 °C', '*strong*', '[x] Berth'])
      expect(read(line)).toEqual([line])
  })
  it('stand in what was read as it came', () => {
    const lines = readList('- berth\n1. x\n2. y')
    expect('refused' in lines ? [] : lines.map(({ raw }) => raw)).toEqual(['- berth', '1. x', '2. y'])
  })
})

describe('a list that is written', () => {
  const head = fc.constantFrom(
    ...[
      '1. ',
      '2. ',
      '3) ',
      'a) ',
      'b) ',
      'A. ',
      'B. ',
      'C. ',
      'I. ',
      'II. ',
      '1.1 ',
      '1.2 ',
      '2.1. ',
      '1 ',
      '(1) ',
      '',
      '',
      '1\\. ',
    ],
    ...['(2) ', 'A\\. ', '2 ', 'i. ', 'ii) '],
  )
  const word = fc.constantFrom('Abel', 'Mate', 'May', '3', 'x')
  it('is read back to the same, whatever counts in it', () => {
    const line = fc.record({ depth: fc.nat(3), text: fc.tuple(head, word).map(([one, two]) => `${one}${two}`) })
    fc.assert(
      fc.property(fc.array(line, { maxLength: 12 }), (all) => {
        const lines = all.reduce<{ depth: number; text: string }[]>(
          (list, { depth, text }) => [...list, { depth: Math.min(depth, (list.at(-1)?.depth ?? -1) + 1), text }],
          [],
        )
        const back = readList(listText(lines))
        expect('refused' in back ? back : back.map(({ depth, text }) => ({ depth, text }))).toEqual(lines)
      }),
      { numRuns: 2000 },
    )
  })
})
