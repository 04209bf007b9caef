import { XMLBuilder, XMLParser, XMLValidator } from 'fast-xml-parser'
import { wordsOf } from '../model'
import type { Refusal } from '../notation'

/** An element with its children in their order. */
export interface Node {
  readonly name: string
  readonly space: string | undefined
  readonly attributes: Readonly<Record<string, string>>
  readonly children: readonly Node[]
  readonly text: string
  readonly raw: Raw
  /** Prefixes in force within it. */
  readonly spaces: ReadonlyMap<string, string>
}

type Raw = Readonly<Record<string, unknown>>
export const parser = new XMLParser({
  preserveOrder: true,
  ignoreAttributes: false,
  attributeNamePrefix: '',
  parseTagValue: false,
  parseAttributeValue: false,
  trimValues: true,
  // Numeric references as well as the five of XML.
  processEntities: true,
  htmlEntities: true,
})
const builder = new XMLBuilder({
  preserveOrder: true,
  ignoreAttributes: false,
  attributeNamePrefix: '',
  suppressEmptyNode: true,
})

/** How deep elements may lie within each other. */
const MOST_DEEP = 200

/** The elements of a list as it was parsed. @throws RangeError where they lie too deep. */
export function nodesOf(list: unknown, spaces: ReadonlyMap<string, string>, depth = 0): Node[] {
  if (!Array.isArray(list)) return []
  if (depth > MOST_DEEP) throw new RangeError(`its elements lie more than ${MOST_DEEP} deep within each other`)
  return (list as Raw[]).flatMap((raw): Node[] => {
    const tag = Object.keys(raw).find((key) => key !== ':@')
    if (tag === undefined || tag === '#text' || tag.startsWith('?')) return []
    const attributes = (raw[':@'] ?? {}) as Record<string, string>
    const inner = new Map(spaces)
    for (const [name, uri] of Object.entries(attributes)) {
      if (name === 'xmlns') inner.set('', uri)
      if (name.startsWith('xmlns:')) inner.set(name.slice(6), uri)
    }
    const [prefix = '', local] = tag.includes(':') ? tag.split(':') : ['', tag]
    const content = raw[tag] as Raw[]
    const text = content.flatMap((child) => ('#text' in child ? [String(child['#text'])] : [])).join('')
    return [
      {
        name: local ?? tag,
        space: inner.get(prefix),
        attributes,
        children: nodesOf(content, inner, depth + 1),
        text,
        raw,
        spaces: inner,
      },
    ]
  })
}

/** An element as XML by itself: the prefixes that it uses are declared on it. */
export function written({ raw, spaces }: Node): string {
  const used = new Map<string, string>()
  const look = (list: unknown): void => {
    for (const part of Array.isArray(list) ? (list as Raw[]) : [])
      for (const [key, value] of Object.entries(part)) {
        if (key === ':@') {
          for (const name of Object.keys(value as object)) if (!name.startsWith('xmlns')) uses(name, false)
        } else if (!key.startsWith('#')) {
          uses(key, true)
          look(value)
        }
      }
  }
  const uses = (name: string, isElement: boolean): void => {
    const prefix = name.includes(':') ? (name.split(':')[0] ?? '') : isElement ? '' : undefined
    const uri = prefix === undefined ? undefined : spaces.get(prefix)
    if (prefix !== undefined && uri !== undefined) used.set(prefix === '' ? 'xmlns' : `xmlns:${prefix}`, uri)
  }
  look([raw])
  const attributes = { ...Object.fromEntries(used), ...((raw[':@'] ?? {}) as Record<string, string>) }
  return String(builder.build([{ ...raw, ':@': attributes }]))
}

const MOST = 20_000_000

/** The roots of an XML text that somebody else wrote. @returns a refusal that names what is at fault, and where. */
export function rootsOf(text: string): readonly Node[] | Refusal {
  if (text.length > MOST) return { refused: 'This is more than 20 million characters. Bring it in in parts.' }
  if (/<!DOCTYPE|<!ENTITY/i.test(text))
    return {
      refused:
        'This file declares a document type or entities of its own. Such are not read: what they stand for could be anything.',
    }
  const sound = XMLValidator.validate(text)
  if (sound !== true) return { refused: `This is not XML: line ${sound.err.line}: ${sound.err.msg}` }
  try {
    return nodesOf(parser.parse(text), new Map())
  } catch (error) {
    return { refused: `This XML is not read: ${wordsOf(error)}.` }
  }
}
