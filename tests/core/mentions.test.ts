import { describe, expect, it } from 'vitest'
import { mailAddress, mentionedIn } from '../../src/core/notation'
import { facts, person as someone } from '../facts'

const person = (id: string, name: string, email?: string) =>
  someone(id, { name, fields: email === undefined ? {} : { email } })
const model = facts(
  person('a', 'Ida', 'ida@x.example'),
  person('b', 'Ida Nwosu', 'nwosu@x.example'),
  person('c', 'İnci Ål', 'inci@x.example'),
  person('d', 'Nobody'),
  person('e', 'Wrong', 'wrong@x.example, other@x.example'),
  person('f', 'Ida', 'second@x.example'),
)
const called = (words: string) => mentionedIn(model, words).map(({ id }) => id)

describe('who is called by name', () => {
  it.each([
    ['Ask @Ida.', ['a']],
    ['Ask @Ida Nwosu, not @ida', ['b', 'a']],
    ['@ida nwosu and @Ida Nwosu', ['b']],
    ['(@IDA)', ['a']],
    ['@İnci Ål!', ['c']],
    // Part of a longer word is nobody’s name.
    ['@Idabel', []],
    ['@Ida1', []],
    ['mail ida@ida.example or x@Ida', []],
    ['@@Ida', []],
    ['@ Ida', []],
    ['@', []],
    // Who cannot be reached is not called.
    ['@Nobody @Wrong', []],
    ['', []],
  ])('%j calls %j', (words, ids) => expect(called(words)).toEqual(ids))
  it('are not many at once', () => {
    const crowd = facts(...Array.from({ length: 60 }, (_, at) => person(`p${at}`, `P${at}x`, `p${at}@x.example`)))
    const words = Array.from({ length: 60 }, (_, at) => `@P${at}x`).join(' ')
    expect(mentionedIn(crowd, words)).toHaveLength(20)
  })
})

describe('an address of mail', () => {
  it.each(['a@b.example', 'first.last+tag@sub.b.example', 'ж@пример.example'])('%j is one', (text) =>
    expect(mailAddress(text)).toBe(text),
  )
  it.each([
    'a',
    'a@',
    '@b',
    'a@b@c',
    'a b@c.example',
    'a@b.example\r\nBcc: c@d.example',
    'a@b.example,c@d.example',
    'A <a@b.example>',
    '"a"@b.example',
    7,
    undefined,
    `${'a'.repeat(65)}@b.example`,
    `a@${'b'.repeat(250)}`,
  ])('%j is none', (text) => expect(mailAddress(text)).toBeUndefined())
})
