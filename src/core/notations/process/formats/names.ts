import { parseJson } from '../../../model'

/** Namespaces of BPMN 2.0 (OMG formal/13-12-09, ISO/IEC 19510), and our own for what BPMN has no place for. */
export const BPMN = 'http://www.omg.org/spec/BPMN/20100524/MODEL'
export const BPMNDI = 'http://www.omg.org/spec/BPMN/20100524/DI'
export const DC = 'http://www.omg.org/spec/DD/20100524/DC'
export const DI = 'http://www.omg.org/spec/DD/20100524/DI'
export const OWN = 'urn:skivel:facts'

/** What another program’s file said of an element that has no place among the facts: written again as it was. */
export interface Kept {
  /** The element’s own tag, where several are one kind here. */
  readonly tag?: string
  /** Attributes of other namespaces, with their prefix. */
  readonly attributes?: Readonly<Record<string, string>>
  /** The tag that `more` and `loop` belong to: they are written on no other. */
  readonly of?: string
  /** Attributes of BPMN that have no place among the facts, such as `calledElement`. */
  readonly more?: Readonly<Record<string, string>>
  /** Its event definitions, as XML: what a timer waits for, and those that are no trigger here. `trigger` is the one they say. */
  readonly definitions?: string
  readonly trigger?: string
  /** How it is repeated, as XML. */
  readonly loop?: string
  /** On a process: what the file defines besides, such as messages and errors, as XML. */
  readonly roots?: string
  /** The inside of its extensionElements, as XML. */
  readonly extensions?: string
  /** On a process: the prefixes that the others need. */
  readonly namespaces?: Readonly<Record<string, string>>
}

export function readKept(text: unknown): Kept {
  if (typeof text !== 'string') return {}
  try {
    const kept: unknown = parseJson(text)
    return typeof kept === 'object' && kept !== null ? kept : {}
  } catch {
    // Somebody wrote something else into this field: then nothing is kept.
    return {}
  }
}

/** Fields that go into our own element, as attributes. */
export const OWN_FIELDS: Readonly<Record<string, readonly string[]>> = {
  step: ['duration', 'least', 'most', 'wait', 'cost', 'worth'],
  event: ['wait'],
  flow: ['share', 'label'],
  process: ['version', 'trigger', 'arrivals'],
}

export const STEP_TAGS: Readonly<Record<string, string>> = {
  task: 'task',
  'user task': 'userTask',
  'service task': 'serviceTask',
  'manual task': 'manualTask',
  subprocess: 'subProcess',
}
export const GATEWAY_TAGS: Readonly<Record<string, string>> = {
  exclusive: 'exclusiveGateway',
  parallel: 'parallelGateway',
  inclusive: 'inclusiveGateway',
  'event-based': 'eventBasedGateway',
}
export const TRIGGER_TAGS: Readonly<Record<string, string>> = {
  message: 'messageEventDefinition',
  timer: 'timerEventDefinition',
  error: 'errorEventDefinition',
  signal: 'signalEventDefinition',
}
