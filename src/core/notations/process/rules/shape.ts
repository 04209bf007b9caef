import { reach } from '../../../graph'
import type { Id, Relation, Step } from '../../../model'
import {
  removeRelation,
  setRelation,
  COMMON,
  fix,
  gapOf,
  overlapOf,
  readCondition,
  thresholdOf,
  type Condition,
  type Fix,
  type Found,
  type Rule,
} from '../../../notation'
import { UNNAMED } from '../kinds'
import { levelsOn } from '../levels'
import { calledNode, eventsDuring, type FlowNode, type Process } from '../structure'
import { poolOf } from '../edits'

export const BPMN = 'BPMN 2.0, ISO/IEC 19510'
const GUIDELINES = 'Mendling, Reijers, van der Aalst: Seven process modeling guidelines, 2010'

const flowNodes = ({ nodes }: Process): FlowNode[] => [...nodes.values()].filter(({ kind }) => kind !== 'data')
const inWords = ({ process }: Process): string => `“${process?.name ?? 'The process'}”`
const isStart = ({ kind, type }: FlowNode): boolean => kind === 'event' && type === 'start'
const isEnd = ({ kind, type }: FlowNode): boolean => kind === 'event' && type === 'end'
const isDecision = ({ kind, type, out }: FlowNode): boolean =>
  kind === 'gateway' && (type === 'exclusive' || type === 'inclusive') && out.length > 1

/** A rule that looks at every level of every process. */
const rule = (
  head: Omit<Rule, 'check'>,
  check: (process: Process, model: Parameters<Rule['check']>[0], day: Parameters<Rule['check']>[1]) => readonly Found[],
): Rule => ({ ...head, check: (model, day) => levelsOn(model, day).flatMap((process) => check(process, model, day)) })

/** A rule that looks at every element of the flow. */
const nodeRule = (head: Omit<Rule, 'check'>, check: (node: FlowNode, process: Process) => Found | undefined): Rule =>
  rule(head, (process) => flowNodes(process).flatMap((node) => check(node, process) ?? []))

const found = (message: string, subjects: readonly Id[], ...fixes: Fix[]): Found => ({ message, subjects, fixes })

const noStart = rule(
  {
    id: 'flow/no-start',
    severity: 'error',
    title: 'No beginning',
    why: 'A process without a start does not say what sets it going.',
    source: BPMN,
  },
  (process) => {
    const nodes = flowNodes(process)
    return nodes.length > 0 && !nodes.some(isStart)
      ? [found(`${inWords(process)} has no start event.`, [nodes[0]?.id ?? ('' as Id)])]
      : []
  },
)

const noEnd = rule(
  {
    id: 'flow/no-end',
    severity: 'error',
    title: 'No end',
    why: 'A process without an end does not say when a case is done.',
    source: BPMN,
  },
  (process) => {
    const nodes = flowNodes(process)
    return nodes.length > 0 && !nodes.some(isEnd)
      ? [found(`${inWords(process)} has no end event.`, [nodes.at(-1)?.id ?? ('' as Id)])]
      : []
  },
)

function reached(nodes: readonly FlowNode[], from: readonly FlowNode[], forward: boolean): Set<FlowNode> {
  const byId = new Map(nodes.map((node) => [node.id, node]))
  const during = eventsDuring({ nodes: byId })
  return reach(from, (node) => {
    const ends = forward ? node.out.map(({ target }) => target) : node.into.map(({ source }) => source)
    // A case leaves a step by the events that happen during it as well.
    const events = forward ? (during.get(node.id) ?? []).map(({ id }) => id) : node.during ? [node.during.target] : []
    return [...ends, ...events].flatMap((id) => byId.get(id) ?? [])
  })
}

const unreachable = rule(
  {
    id: 'flow/unreachable',
    severity: 'error',
    title: 'Never reached',
    why: 'No case ever comes to an element to which no way leads from a start.',
    source: 'van der Aalst 1998: no dead step',
  },
  (process) => {
    const nodes = flowNodes(process)
    const starts = nodes.filter(isStart)
    if (starts.length === 0) return []
    const seen = reached(nodes, starts, true)
    return nodes
      .filter((node) => !seen.has(node))
      .map((node) => found(`No way leads from a start to ${calledNode(node)}.`, [node.id]))
  },
)

const deadEnd = nodeRule(
  {
    id: 'flow/dead-end',
    severity: 'error',
    title: 'Dead end',
    why: 'What is not an end event and leads nowhere leaves the reader guessing whether the case is done.',
    source: BPMN,
  },
  (node) =>
    node.out.length === 0 && !isEnd(node)
      ? found(`Nothing follows ${calledNode(node)}, and it is no end.`, [node.id])
      : undefined,
)

const endless = rule(
  {
    id: 'flow/endless',
    severity: 'error',
    title: 'No way to an end',
    why: 'From here a case can only go round and round.',
    source: 'van der Aalst 1998: option to complete',
  },
  (process) => {
    const nodes = flowNodes(process)
    const ends = nodes.filter((node) => node.out.length === 0)
    if (ends.length === 0 && !nodes.some(isEnd)) return []
    const seen = reached(nodes, ends, false)
    const lost = nodes.filter((node) => !seen.has(node))
    const [first] = lost
    return first
      ? [
          found(
            `From ${calledNode(first)} no end can be reached.`,
            lost.map(({ id }) => id),
          ),
        ]
      : []
  },
)

const decisionArity = nodeRule(
  {
    id: 'flow/decision-arity',
    severity: 'error',
    title: 'A gateway that decides nothing',
    why: 'A splitting gateway has at least two ways out.',
    source: BPMN,
  },
  (node) =>
    node.kind === 'gateway' && node.into.length < 2 && node.out.length < 2
      ? found(`${sentence(calledNode(node))} has ${node.out.length === 1 ? 'one way' : 'no way'} out.`, [node.id])
      : undefined,
)

const sentence = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)
const labelOf = ({ fields }: Relation): string => {
  const text = fields['label'] ?? fields['condition']
  return typeof text === 'string' ? text.trim() : ''
}

const unlabelled = nodeRule(
  {
    id: 'flow/unlabelled-branch',
    severity: 'warning',
    title: 'A branch has no label',
    why: 'Readers cannot tell when this way is taken.',
    source: COMMON,
  },
  (node) => {
    if (!isDecision(node)) return undefined
    const bare = node.out.filter((line) => labelOf(line) === '' && line.fields['default'] !== true)
    const [first] = bare
    if (!first) return undefined
    return found(
      `${bare.length === 1 ? 'A branch' : `${bare.length} branches`} of ${calledNode(node)} ${bare.length === 1 ? 'has' : 'have'} no label.`,
      [node.id, ...bare.map(({ id }) => id)],
      ...(bare.length === 1
        ? [
            fix(
              'Write “otherwise”',
              setRelation(first.id, 'fields.label', 'otherwise'),
              setRelation(first.id, 'fields.default', true),
            ),
          ]
        : []),
    )
  },
)

const duplicateLabel = nodeRule(
  {
    id: 'flow/duplicate-label',
    severity: 'warning',
    title: 'Two branches with one label',
    why: 'The reader cannot choose between two ways that are called the same.',
    source: COMMON,
  },
  (node) => {
    if (!isDecision(node)) return undefined
    const seen = new Map<string, Relation>()
    for (const line of node.out) {
      const label = labelOf(line).toLowerCase()
      const twin = label === '' ? undefined : seen.get(label)
      if (twin)
        return found(`Two branches of ${calledNode(node)} are labelled “${labelOf(line)}”.`, [
          node.id,
          twin.id,
          line.id,
        ])
      seen.set(label, line)
    }
    return undefined
  },
)

const shares = nodeRule(
  {
    id: 'flow/shares',
    severity: 'error',
    title: 'Shares do not add up',
    why: 'Every case takes one of the ways, so their shares add to one.',
    source: 'Elementary probability',
  },
  (node) => {
    if (node.kind !== 'gateway' || node.type !== 'exclusive' || node.out.length < 2) return undefined
    const stated = node.out.flatMap(({ fields }) => (typeof fields['share'] === 'number' ? [fields['share']] : []))
    if (stated.length === 0) return undefined
    const sum = stated.reduce((total, share) => total + share, 0)
    const complete = stated.length === node.out.length
    if (complete ? Math.abs(sum - 1) < 1e-6 : sum < 1 + 1e-9) return undefined
    const percent = Number((sum * 100).toFixed(2))
    const scaled = node.out.flatMap((line): Step[] =>
      typeof line.fields['share'] === 'number' && sum > 0
        ? [
            {
              do: 'set-relation',
              id: line.id,
              path: 'fields.share',
              value: Number((line.fields['share'] / sum).toFixed(6)),
            },
          ]
        : [],
    )
    return found(
      `The shares of ${calledNode(node)} add to ${percent} %.`,
      [node.id, ...node.out.map(({ id }) => id)],
      ...(complete && sum > 0 ? [fix('Bring them to 100 %', ...scaled)] : []),
    )
  },
)

/** The conditions of a decision's branches, where all but an “otherwise” compare one field. */
function conditionsOf(node: FlowNode): { line: Relation; condition: Condition }[] | undefined {
  if (node.kind !== 'gateway' || node.type !== 'exclusive' || node.out.length < 2) return undefined
  const named = node.out.filter(({ fields }) => fields['default'] !== true)
  const read = named.flatMap((line) => {
    const condition = readCondition(
      typeof line.fields['condition'] === 'string' ? line.fields['condition'] : labelOf(line),
    )
    return condition ? [{ line, condition }] : []
  })
  const fields = new Set(read.map(({ condition }) => condition.field))
  const kinds = new Set(read.map(({ condition }) => condition.values === undefined))
  return read.length === named.length && read.length > 0 && fields.size === 1 && kinds.size === 1 ? read : undefined
}

const conditionGap = nodeRule(
  {
    id: 'flow/condition-gap',
    severity: 'error',
    title: 'A case that fits no branch',
    why: 'For some values no branch is taken, and the case is stuck.',
    source: COMMON,
  },
  (node) => {
    const read = conditionsOf(node)
    if (!read || node.out.some(({ fields }) => fields['default'] === true)) return undefined
    const gap = gapOf(read.map(({ condition }) => condition))
    const field = read[0]?.condition.field ?? ''
    return gap === undefined
      ? undefined
      : found(`No branch of ${calledNode(node)} is taken for ${field} ${gap}.`, [
          node.id,
          ...read.map(({ line }) => line.id),
        ])
  },
)

const conditionOverlap = nodeRule(
  {
    id: 'flow/condition-overlap',
    severity: 'error',
    title: 'A case that fits two branches',
    why: 'For some values two branches hold, and it is left open which is taken.',
    source: COMMON,
  },
  (node) => {
    const read = conditionsOf(node) ?? []
    for (let i = 0; i < read.length; i++)
      for (let j = i + 1; j < read.length; j++) {
        const [a, b] = [read[i], read[j]]
        const both = a && b && overlapOf(a.condition, b.condition)
        if (a && b && both !== undefined)
          return found(`Two branches of ${calledNode(node)} hold for ${a.condition.field} ${both}.`, [
            node.id,
            a.line.id,
            b.line.id,
          ])
      }
    return undefined
  },
)

const startIncoming = nodeRule(
  {
    id: 'flow/start-with-incoming',
    severity: 'error',
    title: 'Something leads to a start',
    why: 'A start event is where cases come from; nothing flows into it.',
    source: BPMN,
  },
  (node) =>
    isStart(node) && node.into.length > 0
      ? found(
          `A line leads to ${calledNode(node)}, which is a start.`,
          [node.id, ...node.into.map(({ id }) => id)],
          fix('Remove the line', ...node.into.map((line): Step => removeRelation(line.id))),
        )
      : undefined,
)

const endOutgoing = nodeRule(
  {
    id: 'flow/end-with-outgoing',
    severity: 'error',
    title: 'Something follows an end',
    why: 'A case that has ended goes nowhere.',
    source: BPMN,
  },
  (node) =>
    isEnd(node) && node.out.length > 0
      ? found(
          `A line leads on from ${calledNode(node)}, which is an end.`,
          [node.id, ...node.out.map(({ id }) => id)],
          fix('Remove the line', ...node.out.map((line): Step => removeRelation(line.id))),
        )
      : undefined,
)

const crossesPool = rule(
  {
    id: 'flow/crosses-pool',
    severity: 'error',
    title: 'A flow between pools',
    why: 'Between two parties messages pass; a flow stays within its pool.',
    source: BPMN,
  },
  (process) =>
    process.flows.flatMap((line) => {
      const [a, b] = [process.nodes.get(line.source), process.nodes.get(line.target)]
      if (!a || !b) return []
      const [from, to] = [poolOf(process, a), poolOf(process, b)]
      if (from === to || a.lane === undefined || b.lane === undefined) return []
      const { id, source, target, fields } = line
      const label = fields['label']
      return [
        found(
          `The flow from ${calledNode(a)} to ${calledNode(b)} leads into another pool.`,
          [id, source, target],
          fix('Make it a message', removeRelation(id), {
            do: 'add-relation',
            relation: {
              id: `${id}-m`.slice(-64) as Id,
              kind: 'message',
              source,
              target,
              fields: typeof label === 'string' ? { label } : {},
            },
          }),
        ),
      ]
    }),
)

const implicitMerge = nodeRule(
  {
    id: 'flow/implicit-merge',
    severity: 'note',
    title: 'Several lines into one step',
    why: 'Readers differ on whether it waits for all of them; a gateway says so.',
    source: GUIDELINES,
  },
  (node) =>
    node.kind === 'step' && node.into.length > 1
      ? found(`${node.into.length} lines lead into ${calledNode(node)}.`, [node.id, ...node.into.map(({ id }) => id)])
      : undefined,
)

const gatewayBoth = nodeRule(
  {
    id: 'flow/gateway-both',
    severity: 'warning',
    title: 'Splits and joins at once',
    why: 'A gateway that does both is read in two ways. Two gateways say which comes first.',
    source: GUIDELINES,
  },
  (node) =>
    node.kind === 'gateway' && node.into.length > 1 && node.out.length > 1
      ? found(`${sentence(calledNode(node))} joins ${node.into.length} lines and splits into ${node.out.length}.`, [
          node.id,
        ])
      : undefined,
)

const noLane = rule(
  {
    id: 'flow/no-lane',
    severity: 'warning',
    title: 'In no lane',
    why: 'Where there are lanes, a step without one is done by nobody.',
    source: COMMON,
  },
  (process) =>
    process.lanes.length === 0
      ? []
      : [...process.nodes.values()]
          .filter(({ kind, lane }) => kind === 'step' && lane === undefined)
          .map((node) => found(`${sentence(calledNode(node))} is in no lane.`, [node.id])),
)

const NOUNISH = /(tion|sion|ment|ness|ity|ance|ence|ing|als?)$/i
const NO_VERB = new Set(['the', 'a', 'an', 'new', 'all', 'my', 'our', 'no'])

const verbObject = nodeRule(
  {
    id: 'flow/verb-object',
    severity: 'note',
    title: 'Not verb and object',
    why: 'Labels such as “Rebook passenger” are understood best.',
    source: `${GUIDELINES}, guideline 6`,
  },
  (node) => {
    if (node.kind !== 'step' || node.type === 'subprocess') return undefined
    const { name } = node.entity
    if (name === UNNAMED) return found('A step has no name.', [node.id])
    const words = name.split(/\s+/)
    const [verb = ''] = words
    const fits = words.length > 1 && !(NOUNISH.test(verb) && verb.length > 5) && !NO_VERB.has(verb.toLowerCase())
    return fits ? undefined : found(`“${name}” is not a verb with its object.`, [node.id])
  },
)

const tooLarge: Rule = {
  id: 'flow/too-large',
  severity: 'note',
  title: 'Too large to take in',
  why: 'Models of more than about fifty elements have many more errors. Wrap a part into a subprocess.',
  source: `${GUIDELINES}, guideline 7`,
  threshold: { initial: 50, label: 'Elements of a process' },
  check: (model, day) => {
    const most = thresholdOf(model, tooLarge)
    return levelsOn(model, day).flatMap((process) => {
      const count = flowNodes(process).length
      const id = process.inside ?? process.process?.id
      return count > most && id !== undefined ? [found(`${inWords(process)} has ${count} elements.`, [id])] : []
    })
  },
}

export const shapeRules: readonly Rule[] = [
  noStart,
  noEnd,
  unreachable,
  deadEnd,
  endless,
  decisionArity,
  unlabelled,
  duplicateLabel,
  shares,
  conditionGap,
  conditionOverlap,
  startIncoming,
  endOutgoing,
  crossesPool,
  implicitMerge,
  gatewayBoth,
  noLane,
  verbObject,
  tooLarge,
]
