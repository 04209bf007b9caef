import type { Node } from '../../../../tabular/xml'

/** What single elements of UML say, each by itself. */

/** An attribute of XMI, whatever its prefix. */
export function xmi({ attributes }: Node, name: string): string | undefined {
  return attributes[`xmi:${name}`] ?? (name === 'idref' ? attributes['idref'] : undefined)
}

/** The type of an element of UML, without its prefix. */
export const typeOfNode = (node: Node): string => {
  const said = xmi(node, 'type') ?? node.attributes['xsi:type'] ?? ''
  return said.split(':').at(-1) ?? said
}

export const isTrue = ({ attributes }: Node, name: string): boolean => attributes[name] === 'true'
export const isWhole = ({ attributes }: Node): boolean =>
  attributes['aggregation'] === 'shared' || attributes['aggregation'] === 'composite'
export const listOr = (list: readonly string[]): readonly string[] | undefined => (list.length > 0 ? list : undefined)

export function propertiesOf(node: Node): readonly string[] {
  const isMixed = node.attributes['isUnique'] === 'false'
  return [
    ...(isTrue(node, 'isID') ? ['id'] : []),
    ...(isTrue(node, 'isReadOnly') ? ['readOnly'] : []),
    ...(isTrue(node, 'isOrdered') ? ['ordered'] : []),
    ...(isMixed ? ['nonunique'] : []),
  ]
}

/** `1..*`; undefined where nothing is said. What has no value is 1 below, 1 above. */
export function multiplicityOf({ children }: Node): string | undefined {
  const [lower, upper] = ['lowerValue', 'upperValue'].map((name) => children.find((one) => one.name === name))
  if (!lower && !upper) return undefined
  const least = lower ? (lower.attributes['value'] ?? '0') : '1'
  const most = upper ? (upper.attributes['value'] ?? '0') : '1'
  if (least === most) return least
  return least === '0' && most === '*' ? '*' : `${least}..${most}`
}

/** The text of a value: a literal’s, or the body of an expression or a behaviour. */
export function valueOf(node: Node | undefined): string | undefined {
  if (!node) return undefined
  const body = node.children.find(({ name }) => name === 'body')
  const text = body?.text ?? node.attributes['body']
  if (text !== undefined) return text
  const { value } = node.attributes
  const type = typeOfNode(node)
  if (type === 'LiteralString') return `"${(value ?? '').replaceAll('"', "'")}"`
  if (type === 'LiteralNull') return 'null'
  return value ?? (type.startsWith('Literal') ? (type === 'LiteralBoolean' ? 'false' : '0') : node.attributes['name'])
}

export const specificationOf = (node: Node | undefined): Node | undefined =>
  node?.children.find(({ name }) => name === 'specification') ?? node

/** Words of ours by those of the standard. */
export const turned = (words: Readonly<Record<string, string>>): ReadonlyMap<string, string> =>
  new Map(Object.entries(words).map(([ours, theirs]) => [theirs, ours]))
