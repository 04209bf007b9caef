import { freeId, type Id, type Model, type Step } from '../../../model'
import { setEntity, setRelation, fix, type Finding, type Fix, type Moment, type Rule } from '../../../notation'
import { UNNAMED } from '../kinds'
import { levelsOn } from '../levels'
import { soundnessOf, type Unsound, type Verdict } from '../soundness'
import { calledNode, type Process } from '../structure'

/** Rules about what happens when cases run: soundness of the flow as a workflow net. */

const verdicts = new WeakMap<Process, Verdict>()

function verdictOn(process: Process): Verdict {
  const known = verdicts.get(process) ?? soundnessOf(process)
  verdicts.set(process, known)
  return known
}

const SOURCE = 'van der Aalst: The application of Petri nets to workflow management, 1998'

function soundnessRule(
  sort: Unsound['sort'],
  head: Pick<Rule, 'title' | 'why'>,
  words: (node: string, moves: number) => string,
  fixes: (model: Model, process: Process, node: Id) => Fix[],
): Rule {
  return {
    id: `flow/${sort}`,
    severity: 'error',
    ...head,
    source: SOURCE,
    check: (model, day) =>
      levelsOn(model, day).flatMap((process) => {
        const { faults, decided, states } = verdictOn(process)
        const list = faults
          .filter((fault) => fault.sort === sort)
          .map((fault) => findingOf(model, process, fault, words, fixes))
        // The question is left open only once, by the first of the three rules.
        const id = process.inside ?? process.process?.id
        if (!decided && sort === 'deadlock' && id !== undefined)
          list.push({
            message: `Whether every case of “${process.process?.name ?? ''}” can end is not decided within ${states.toLocaleString('en')} states.`,
            subjects: [id],
            fixes: [],
          })
        return list
      }),
  }
}

function findingOf(
  model: Model,
  process: Process,
  { node, trace }: Unsound,
  words: (node: string, moves: number) => string,
  fixes: (model: Model, process: Process, node: Id) => Fix[],
): Omit<Finding, 'rule' | 'severity'> {
  const at = process.nodes.get(node)
  const moments = trace.map((moment, index): Moment => {
    const passed = process.nodes.get(moment.node)
    return {
      at: [moment.node, ...moment.marked],
      words: `${index + 1} of ${trace.length}: ${passed ? calledNode(passed) : ''}`,
    }
  })
  return {
    message: words(at ? calledNode(at) : 'this element', trace.length),
    subjects: [node],
    fixes: fixes(model, process, node),
    trace: moments,
  }
}

const setType = (id: Id, value: string): Step => setEntity(id, 'fields.type', value)

const deadlock = soundnessRule(
  'deadlock',
  { title: 'Can never finish', why: 'A join waits for branches of which only some arrive.' },
  (node, moves) =>
    `Only some of the branches arrive, but ${node} waits for all. Shortest way to see it: ${moves} moves.`,
  (_model, process, id) => {
    const node = process.nodes.get(id)
    return node?.kind === 'gateway' && node.type === 'parallel'
      ? [fix('Join as “either”', setType(id, 'exclusive'))]
      : []
  },
)

const unsynchronised = soundnessRule(
  'unsynchronised',
  {
    title: 'Runs on twice',
    why: 'Branches that run at once meet without waiting for each other, so what follows is done more than once.',
  },
  (node, moves) =>
    `Two branches that run at once both pass ${node}, and what follows is done twice. Shortest way to see it: ${moves} moves.`,
  (model, process, id) => {
    const node = process.nodes.get(id)
    if (!node) return []
    if (node.kind === 'gateway' && node.into.length > 1) return [fix('Join as “both”', setType(id, 'parallel'))]
    return node.into.length > 1 ? [addJoin(model, process, id)] : []
  },
)

/** A parallel gateway before the element, into which all its lines lead. */
function addJoin(model: Model, process: Process, id: Id): Fix {
  const node = process.nodes.get(id)
  const join = freeId(model.entities, `join-${id}`)
  const steps: Step[] = [
    {
      do: 'add-entity',
      entity: {
        id: join,
        kind: 'gateway',
        name: UNNAMED,
        fields: {
          type: 'parallel',
          ...(process.process ? { process: process.process.id } : {}),
          ...(process.inside ? { inside: process.inside } : {}),
          ...(node?.phase ? { phase: node.phase } : {}),
        },
      },
    },
    ...(node?.lane
      ? [
          {
            do: 'add-relation',
            relation: {
              id: freeId(model.relations, `in-${join}`),
              kind: 'performed-in',
              source: join,
              target: node.lane,
              fields: {},
            },
          } as const,
        ]
      : []),
    ...(node?.into ?? []).map((line): Step => setRelation(line.id, 'target', join)),
    {
      do: 'add-relation',
      relation: { id: freeId(model.relations, `flow-${join}`), kind: 'flow', source: join, target: id, fields: {} },
    },
  ]
  return fix('Add the missing parallel join', ...steps)
}

const improperEnd = soundnessRule(
  'improper-end',
  {
    title: 'Ends more than once',
    why: 'A case that has come to this end comes to it again: something is still going on after the end.',
  },
  (node, moves) => `A case reaches ${node} a second time. Shortest way to see it: ${moves} moves.`,
  (model, process, id) => ((process.nodes.get(id)?.into.length ?? 0) > 1 ? [addJoin(model, process, id)] : []),
)

export const runRules: readonly Rule[] = [deadlock, unsynchronised, improperEnd]
