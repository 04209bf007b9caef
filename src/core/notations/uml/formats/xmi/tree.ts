import { XMLValidator } from 'fast-xml-parser'

/** Namespaces of XMI 2.5.1 (OMG formal/15-06-07) and UML 2.5.1 (formal/17-12-05), and our own for what UML has no place for. Their dates are from memory. */
export const XMI = 'http://www.omg.org/spec/XMI/20131001'
export const UML = 'http://www.omg.org/spec/UML/20161101'
export const PRIMITIVES = `${UML}/PrimitiveTypes.xmi`
export const OWN = 'urn:skivel:facts'

/** An element as it is written; what a file is parsed into has the same parts. */
export interface El {
  readonly name: string
  readonly attributes: Readonly<Record<string, string>>
  readonly children: readonly El[]
  readonly text: string
  /** XML that is written as it was read. */
  readonly kept?: string
}

type Said = Readonly<Record<string, string | number | boolean | undefined>>

export const el = (name: string, attributes: Said, children: readonly (El | undefined)[] = [], text = ''): El => ({
  name,
  attributes: Object.fromEntries(
    Object.entries(attributes).flatMap(([key, value]) => (value === undefined ? [] : [[key, String(value)]])),
  ),
  children: children.filter((one) => one !== undefined),
  text,
})

/** An element of a type of UML, with its identity. */
export const typedEl = (
  name: string,
  type: string,
  id: string,
  attributes: Said = {},
  children: readonly (El | undefined)[] = [],
): El => el(name, { 'xmi:type': `uml:${type}`, 'xmi:id': id, ...attributes }, children)

/** XML as it was read; undefined for what is none, whoever put it there. */
export const keptEl = (xml: string | undefined): El | undefined =>
  xml === undefined || /<!(?:DOCTYPE|ENTITY)|<\?/i.test(xml) || XMLValidator.validate(`<x>${xml}</x>`) !== true
    ? undefined
    : { name: '', attributes: {}, children: [], text: '', kept: xml }

/** The identities in XML. */
export const idsIn = (xml: string): readonly string[] =>
  [...xml.matchAll(/\sxmi:id\s*=\s*["']([^"']*)["']/g)].map(([, id = '']) => id)

const escaped = (text: string): string =>
  text
    // XML 1.0 has no place for control characters; what a line break in an attribute means only a reference says.
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, ' ')
    .replace(/[&<>"\t\n\r]/g, (sign) => SIGNS[sign] ?? sign)
const SIGNS: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  '\t': '&#9;',
  '\n': '&#10;',
  '\r': '&#13;',
}

/** O(elements) */
export function printed({ name, attributes, children, text, kept }: El, depth = 0): string {
  const indent = '  '.repeat(depth)
  if (kept !== undefined) return `${indent}${kept}`
  const said = Object.entries(attributes).map(([key, value]) => ` ${key}="${escaped(value)}"`)
  const open = `${indent}<${name}${said.join('')}`
  if (children.length === 0) return text === '' ? `${open}/>` : `${open}>${escaped(text)}</${name}>`
  return [`${open}>`, ...children.map((one) => printed(one, depth + 1)), `${indent}</${name}>`].join('\n')
}
