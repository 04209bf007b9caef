import fc from 'fast-check'

/** Class models such as databases keep them, as their outline: what a table can say of a class, they say. */

const TYPES = ['String', 'Integer', 'Real', 'Boolean', 'Date', 'DateTime', 'Enumerated'] as const
const DEFAULTS: Readonly<Record<string, string>> = { String: '"it\'s; x"', Integer: '7', Boolean: 'true' }

const attribute = fc.record({
  type: fc.constantFrom(...TYPES),
  isOptional: fc.boolean(),
  hasDefault: fc.boolean(),
  isMany: fc.integer({ min: 0, max: 7 }).map((one) => one === 0),
})
const tie = fc.record({
  to: fc.nat({ max: 9 }),
  sort: fc.constantFrom('one', 'some', 'owned', 'many'),
  isOnce: fc.boolean(),
  hasRole: fc.boolean(),
})
const shape = fc.array(
  fc.record({
    attributes: fc.array(attribute, { maxLength: 5 }),
    ties: fc.array(tie, { maxLength: 3 }),
    isKind: fc.integer({ min: 0, max: 4 }).map((one) => one === 0),
    hasId: fc.boolean(),
  }),
  { minLength: 1, maxLength: 7 },
)

export const databaseModels: fc.Arbitrary<string> = shape.map((classes) => {
  const lines: string[] = ['Date  (primitive)', 'DateTime  (primitive)']
  const literals: string[] = []
  const owned = new Set<number>()
  const taken = new Set<string>()
  const bodies = classes.map((): string[] => [])
  classes.forEach(({ attributes, ties, isKind, hasId }, at) => {
    const body = bodies[at] ?? []
    const inherits = isKind && at > 0
    if (hasId && !inherits) body.push('- code : String {id}')
    attributes.forEach(({ type, isOptional, hasDefault, isMany }, index) => {
      const name = `field${index}`
      const said = type === 'Enumerated' ? `Thing${at}Field${index}` : type
      if (isMany && type !== 'Enumerated') body.push(`- ${name} : ${said} [*] {ordered}`)
      else {
        const start = hasDefault ? (type === 'Enumerated' ? 'open' : DEFAULTS[type]) : undefined
        body.push(`- ${name} : ${said}${isOptional ? ' [0..1]' : ''}${start === undefined ? '' : ` = ${start}`}`)
        if (type === 'Enumerated') literals.push(said)
      }
    })
    if (inherits) body.push(`is a Thing${at - 1}`)
    ties.forEach(({ to, sort, isOnce, hasRole }, index) => {
      const far = to % classes.length
      const role = hasRole ? ` as role${index}` : ''
      // Two of one name from a table to another would be told apart by their roles only.
      const isNew = (from: number, onto: number) => {
        const key = `${from} ${onto}${from === at ? role : ''}`
        const known = taken.has(key) || (from === onto && role === '')
        if (!known) taken.add(key)
        return !known
      }
      const near = `each ${isOnce ? '0..1' : '*'}`
      if ((sort === 'one' || sort === 'some') && isNew(at, far))
        body.push(`has ${sort === 'one' ? '1' : '0..1'} Thing${far}${role}  ${near}`)
      else if (sort === 'many' && hasRole) body.push(`has * Thing${far}${role}  each *`)
      else if (sort === 'owned' && far !== at && !owned.has(far) && !classes[far]?.isKind && isNew(far, at)) {
        owned.add(far)
        body.push(`owns ${isOnce ? '0..1' : '*'} Thing${far}  each 1`)
      }
    })
  })
  bodies.forEach((body, at) => lines.push(`Thing${at}`, ...body.map((line) => `  ${line}`)))
  for (const one of literals) lines.push(`${one}  (enumeration)`, '  open', `  it's ${one}`)
  return lines.join('\n')
})

/** What an outline of classes says, whatever the order: each line behind the class that it stands beneath. */
export function statements(outline: string): readonly string[] {
  let holder = ''
  return outline
    .split('\n')
    .map((line) => {
      if (line.startsWith(' ')) return `${holder}: ${line.trim()}`
      holder = line.split('  ')[0] ?? ''
      return line.trim()
    })
    .sort()
}
