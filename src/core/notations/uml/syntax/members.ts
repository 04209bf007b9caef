import { SIGN_OF, VISIBILITIES, type Visibility } from '../kinds'
import { readMultiplicity } from './multiplicity'
import { isBalanced, isFault, parted, Scanner, type Fault } from './scan'

/** An attribute as it is typed. */
export interface AttributeText {
  readonly is: 'attribute'
  readonly name: string
  readonly visibility?: Visibility
  readonly derived?: true
  readonly type?: string
  readonly multiplicity?: string
  readonly default?: string
  readonly static?: true
  readonly properties: readonly string[]
}

/** An operation as it is typed; its parameters as one text. */
export interface OperationText {
  readonly is: 'operation'
  readonly name: string
  readonly visibility?: Visibility
  readonly parameters: string
  readonly type?: string
  readonly multiplicity?: string
  readonly abstract?: true
  readonly static?: true
  readonly properties: readonly string[]
}

export interface Parameter {
  readonly name: string
  readonly direction: (typeof DIRECTIONS)[number]
  readonly type?: string
  readonly multiplicity?: string
  readonly default?: string
  readonly properties: readonly string[]
}

const DIRECTIONS = ['in', 'out', 'inout', 'return'] as const
const BY_SIGN = new Map(VISIBILITIES.map((one) => [SIGN_OF[one], one]))

/** A member of a class: an operation has brackets after its name. */
export function readMember(text: string): AttributeText | OperationText | Fault {
  const scanner = new Scanner(text)
  readHead(scanner)
  if (operatorAt(scanner) !== undefined) return readOperation(text)
  scanner.until('([:={')
  return scanner.peek() === '(' ? readOperation(text) : readAttribute(text)
}

/**
 * `[<visibility>] ['/'] <name> [':' <prop-type>] ['[' <multiplicity> ']'] ['=' <default>] ['{' <prop-modifier> [',' <prop-modifier>]* '}']`
 * (UML 2.5.1, 9.5.4). Static features are underlined there; where there are only letters they say `{static}`.
 */
export function readAttribute(text: string): AttributeText | Fault {
  const scanner = new Scanner(text)
  const { visibility, derived } = readHead(scanner)
  const name = readName(scanner, ':[={')
  if (typeof name !== 'string') return name
  const type = readType(scanner, '[={')
  if (type !== undefined && isFault(type)) return type
  const multiplicity = readBrackets(scanner)
  if (multiplicity !== undefined && isFault(multiplicity)) return multiplicity
  let initial: string | undefined
  if (scanner.take('=')) {
    initial = scanner.until('{')
    if (initial === '') return { refused: 'After “=” a value is missing.', at: scanner.at }
  }
  const properties = readProperties(scanner)
  if (isFault(properties)) return properties
  const { list, flags } = flagged(properties.list, ['static'])
  return (
    rest(scanner) ?? {
      is: 'attribute',
      name,
      ...(visibility ? { visibility } : {}),
      ...(derived ? { derived } : {}),
      ...(type ? { type: type.text } : {}),
      ...(multiplicity ? { multiplicity: multiplicity.text } : {}),
      ...(initial === undefined ? {} : { default: initial }),
      ...(flags.has('static') ? { static: true } : {}),
      properties: list,
    }
  )
}

/**
 * `[<visibility>] <name> '(' [<parameter-list>] ')' [':' [<return-type>] ['[' <multiplicity> ']'] ['{' <oper-property> [',' <oper-property>]* '}']]`
 * (UML 2.5.1, 9.6.4). Abstract and static operations, slanted and underlined there, say `{abstract}` and `{static}`.
 */
export function readOperation(text: string): OperationText | Fault {
  const scanner = new Scanner(text)
  const { visibility, derived } = readHead(scanner)
  if (derived) return { refused: 'An operation is not derived: “/” stands before attributes.', at: text.indexOf('/') }
  const operator = operatorAt(scanner)
  if (operator !== undefined) scanner.at += operator.length
  const name = operator ?? readName(scanner, '(')
  if (typeof name !== 'string') return name
  const from = scanner.at
  const inner = scanner.bracketed('(')
  if (inner === undefined) return { refused: 'After the name of an operation “(” is missing.', at: scanner.at }
  if (typeof inner !== 'string') return inner
  const parameters = readParameters(inner)
  if (isFault(parameters)) return { ...parameters, at: from + 1 + parameters.at }
  const type = readType(scanner, '[{=')
  if (type !== undefined && isFault(type)) return type
  const multiplicity = readBrackets(scanner)
  if (multiplicity !== undefined && isFault(multiplicity)) return multiplicity
  if (scanner.peek() === '=')
    return { refused: 'An operation has no default: “=” stands behind attributes and parameters.', at: scanner.at }
  const properties = readProperties(scanner)
  if (isFault(properties)) return properties
  const { list, flags } = flagged(properties.list, ['abstract', 'static'])
  return (
    rest(scanner) ?? {
      is: 'operation',
      name,
      ...(visibility ? { visibility } : {}),
      parameters: parameters.map(parameterText).join(', '),
      ...(type ? { type: type.text } : {}),
      ...(multiplicity ? { multiplicity: multiplicity.text } : {}),
      ...(flags.has('abstract') ? { abstract: true } : {}),
      ...(flags.has('static') ? { static: true } : {}),
      properties: list,
    }
  )
}

/** `[<direction>] <name> ':' <type> ['[' <multiplicity> ']'] ['=' <default>] ['{' <property> [',' <property>]* '}']`, between commas (UML 2.5.1, 9.6.4). */
export function readParameters(text: string): readonly Parameter[] | Fault {
  const found: Parameter[] = []
  for (const part of parted(text)) {
    const at = Math.max(0, text.indexOf(part))
    const direction = DIRECTIONS.find((one) => new RegExp(`^${one}\\s`).test(part))
    const read = readAttribute(part.slice(direction?.length ?? 0))
    if (isFault(read)) return { ...read, at: at + (direction?.length ?? 0) + read.at }
    const { visibility, derived, static: isStatic, is: _, ...rest } = read
    if (visibility || derived || isStatic)
      return {
        refused: `“${part}” is no parameter: write name : Type, with in, out or inout before it if need be.`,
        at,
      }
    found.push({ ...rest, direction: direction ?? 'in' })
  }
  return found
}

/** The name of an operator, with the signs that it is called by: `operator==`, `operator()`, `operator[]`, `operator <`. */
const OPERATOR = /operator\s*(?:\(\s*\)|\[\s*\]|[-+*/%^&|~!=<>,]{1,3})(?=\s*\()/y

const WHOLE_OPERATOR = /^operator\s*(?:\(\s*\)|\[\s*\]|[-+*/%^&|~!=<>,]{1,3})$/

function operatorAt(scanner: Scanner): string | undefined {
  scanner.skip()
  OPERATOR.lastIndex = scanner.at
  return OPERATOR.exec(scanner.text)?.[0]
}

function readHead(scanner: Scanner): { visibility?: Visibility; derived?: true } {
  const visibility = BY_SIGN.get(scanner.peek())
  if (visibility) scanner.at++
  const derived = scanner.take('/')
  return { ...(visibility ? { visibility } : {}), ...(derived ? { derived } : {}) }
}

/** A name, in quotation marks where it holds what would end it. */
function readName(scanner: Scanner, signs: string): string | Fault {
  scanner.skip()
  const at = scanner.at
  const raw = scanner.until(signs)
  const quoted = /^"((?:[^"]|"")*)"$/.exec(raw)
  const name = quoted?.[1]?.replaceAll('""', '"') ?? raw
  if (name.trim() === '') return { refused: 'A name is missing.', at }
  if (!quoted && !isBalanced(name)) return { refused: `“${name}” is no name.`, at }
  return name
}

function readType(scanner: Scanner, signs: string): { text: string } | Fault | undefined {
  if (!scanner.take(':')) return undefined
  const at = scanner.at
  const text = scanner.until(signs)
  return text === '' ? { refused: 'After “:” a type is missing.', at } : { text }
}

function readBrackets(scanner: Scanner): { text: string } | Fault | undefined {
  const at = scanner.at
  const inner = scanner.bracketed('[')
  if (inner === undefined) return undefined
  if (typeof inner !== 'string') return inner
  const read = readMultiplicity(inner)
  return isFault(read) ? { ...read, at: at + 1 + read.at } : { text: inner }
}

function readProperties(scanner: Scanner): { list: readonly string[] } | Fault {
  const inner = scanner.bracketed('{')
  if (inner === undefined) return { list: [] }
  return typeof inner === 'string' ? { list: parted(inner).filter(Boolean) } : inner
}

function flagged(list: readonly string[], words: readonly string[]) {
  const flags = new Set(list.filter((one) => words.includes(one)))
  return { flags, list: list.filter((one) => !flags.has(one)) }
}

function rest(scanner: Scanner): Fault | undefined {
  if (scanner.isDone) return undefined
  return { refused: `“${scanner.text.slice(scanner.at).trim()}” does not belong here.`, at: scanner.at }
}

/** What a name needs in order to be read as it is. */
const nameText = (name: string, isQuoted: boolean): string =>
  isQuoted || SIGNS.test(name) || !isBalanced(name) ? `"${name.replaceAll('"', '""')}"` : name

const SIGNS = /[:[={("']|^[-+#~/\s]|\s$/

/** An attribute in the notation of the standard: what `readAttribute` reads to the same. */
export function attributeText(
  { name, visibility, derived, ...rest }: Omit<AttributeText, 'is'>,
  isQuoted = false,
): string {
  const head = `${visibility ? `${SIGN_OF[visibility]} ` : ''}${derived ? '/ ' : ''}${nameText(name, isQuoted)}`
  return `${head}${typedText(rest)}${rest.default === undefined ? '' : ` = ${rest.default}`}${listText([...rest.properties, ...(rest.static ? ['static'] : [])])}`
}

/** An operation in the notation of the standard: what `readOperation` reads to the same. */
export function operationText(
  { name, visibility, parameters, ...rest }: Omit<OperationText, 'is'>,
  isQuoted = false,
): string {
  const words = [...rest.properties, ...(rest.abstract ? ['abstract'] : []), ...(rest.static ? ['static'] : [])]
  const called = WHOLE_OPERATOR.test(name) && !isQuoted ? name : nameText(name, isQuoted)
  return `${visibility ? `${SIGN_OF[visibility]} ` : ''}${called}(${parameters})${typedText(rest)}${listText(words)}`
}

export const memberText = (member: AttributeText | OperationText, isQuoted = false): string =>
  member.is === 'attribute' ? attributeText(member, isQuoted) : operationText(member, isQuoted)

export function parameterText({ name, direction, ...rest }: Parameter): string {
  const head = `${direction === 'in' ? '' : `${direction} `}${nameText(name, false)}`
  return `${head}${typedText(rest)}${rest.default === undefined ? '' : ` = ${rest.default}`}${listText(rest.properties)}`
}

const typedText = ({ type, multiplicity }: { readonly type?: string; readonly multiplicity?: string }): string =>
  `${type === undefined ? '' : ` : ${type}`}${multiplicity === undefined ? '' : ` [${multiplicity}]`}`

const listText = (words: readonly string[]): string => (words.length === 0 ? '' : ` {${words.join(', ')}}`)
