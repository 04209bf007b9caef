import { BPMN, OWN, TRIGGER_TAGS, type Kept } from './names'
import { written, type Node } from '../../../tabular/xml'

/** What each definition of an event says as its trigger. */
export const TRIGGERS = new Map(Object.entries(TRIGGER_TAGS).map(([trigger, tag]) => [tag, trigger]))

export const WRITTEN = new Set(['bpmndi', 'dc', 'di', 'skivel', 'xsi', 'bpmn', 'bpmn2', 'semantic'])

/** Attributes that are read as facts, or made anew when the process is written. */
const READ = new Set([
  'id',
  'name',
  'default',
  'sourceRef',
  'targetRef',
  'attachedToRef',
  'cancelActivity',
  'processRef',
  'dataObjectRef',
  'isExecutable',
  'partitionElementRef',
])

/** What an element said beyond the facts, as JSON: its own tag, foreign attributes, definitions, extension elements. */
export function keptText(
  node: Node,
  tag: string | undefined,
  namespaces: Readonly<Record<string, string>>,
  roots: string,
): string {
  const extensions = node.children.find(({ name }) => name === 'extensionElements')
  const foreign = extensions?.children.filter(({ space }) => space !== OWN) ?? []
  const attributes = Object.fromEntries(
    Object.entries(node.attributes).filter(([name]) => name.includes(':') && !name.startsWith('xmlns')),
  )
  const more = Object.fromEntries(
    Object.entries(node.attributes).filter(([name]) => !name.includes(':') && name !== 'xmlns' && !READ.has(name)),
  )
  const prefixes = new Set(Object.keys(attributes).map((name) => name.split(':')[0] ?? ''))
  const own = Object.fromEntries(
    [...prefixes].flatMap((prefix) => {
      const uri = node.spaces.get(prefix)
      return uri === undefined || WRITTEN.has(prefix) ? [] : [[`xmlns:${prefix}`, uri]]
    }),
  )
  const events = node.children.filter(({ name, space }) => space === BPMN && name.endsWith('EventDefinition'))
  const plain =
    events.length === 1 &&
    events.every(
      ({ children, attributes: said }) => children.length === 0 && Object.keys(said).every((name) => name === 'id'),
    ) &&
    TRIGGERS.has(events[0]?.name ?? '')
  const loop = node.children.find(({ name }) => name.endsWith('LoopCharacteristics'))
  const trigger = events.flatMap(({ name }) => TRIGGERS.get(name) ?? [])[0]
  const kept: Kept = {
    ...(tag ? { tag } : {}),
    ...(Object.keys(attributes).length > 0 ? { attributes: { ...own, ...attributes } } : {}),
    ...(Object.keys(more).length > 0 || loop ? { of: node.name } : {}),
    ...(Object.keys(more).length > 0 ? { more } : {}),
    ...(events.length > 0 && !plain
      ? { definitions: events.map(written).join(''), ...(trigger ? { trigger } : {}) }
      : {}),
    ...(loop ? { loop: written(loop) } : {}),
    ...(foreign.length > 0 ? { extensions: foreign.map(written).join('') } : {}),
    ...(Object.keys(namespaces).length > 0 ? { namespaces } : {}),
    ...(roots === '' ? {} : { roots }),
  }
  return JSON.stringify(kept)
}
