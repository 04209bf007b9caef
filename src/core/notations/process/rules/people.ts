import { covers, dayInWords, type Entity, type Id } from '../../../model'
import { COMMON, fix, thresholdOf, type Rule } from '../../../notation'
import { levelsOn } from '../levels'
import { likelyPath } from '../numbers/paths'
import { calledNode, laneHolders } from '../structure'

/** Rules about who does the steps, and with what. */

const accountable: Rule = {
  id: 'flow/raci-accountable',
  severity: 'error',
  title: 'Not exactly one is accountable',
  why: 'Where two answer for a step, or nobody, no one does.',
  source: COMMON,
  check: (model, day) =>
    levelsOn(model, day).flatMap(({ nodes }) =>
      [...nodes.values()].flatMap((node) => {
        const parts = model.reaching(node.id, 'raci').filter((part) => covers(part, day))
        const count = parts.filter(({ fields }) => fields['part'] === 'A').length
        if (parts.length === 0 || count === 1) return []
        return [
          {
            message: `${count === 0 ? 'Nobody is' : `${count} are`} accountable for ${calledNode(node)}.`,
            subjects: [node.id, ...parts.map(({ source }) => source)],
            fixes: [],
          },
        ]
      }),
    ),
}

const responsible: Rule = {
  id: 'flow/raci-responsible',
  severity: 'error',
  title: 'Nobody is responsible',
  why: 'A step that nobody does is not done.',
  source: COMMON,
  check: (model, day) =>
    levelsOn(model, day).flatMap(({ nodes }) =>
      [...nodes.values()].flatMap((node) => {
        const parts = model.reaching(node.id, 'raci').filter((part) => covers(part, day))
        if (parts.length === 0 || parts.some(({ fields }) => fields['part'] === 'R')) return []
        return [{ message: `Nobody is responsible for ${calledNode(node)}.`, subjects: [node.id], fixes: [] }]
      }),
    ),
}

const sameHands: Rule = {
  id: 'flow/same-hands',
  severity: 'warning',
  title: 'Two steps in the same hands',
  why: 'Steps that are declared to be kept apart are done by the same role or person (separation of duties).',
  source: COMMON,
  check: (model, day) =>
    levelsOn(model, day).flatMap(({ nodes, lanes }) =>
      model.relationsOfKind('kept-apart').flatMap((tie) => {
        const [a, b] = [nodes.get(tie.source), nodes.get(tie.target)]
        if (!a || !b || !covers(tie, day)) return []
        const [first, second] = [a.lane, b.lane].map((id) => lanes.find((lane) => lane.id === id))
        if (!first || !second) return []
        const [p, q] = [laneHolders(model, first, day), laneHolders(model, second, day)]
        const shared = p.people.filter((person) => q.people.includes(person)).map(({ name }) => name)
        const sameRole = first.id === second.id || (p.of !== undefined && p.of.id === q.of?.id)
        if (!sameRole && shared.length === 0) return []
        const who = shared.length > 0 ? shared.join(' and ') : `“${first.name}”`
        return [
          {
            message: `${calledNode(a)} and ${calledNode(b)} are to be kept apart, but ${who} does both.`,
            subjects: [a.id, b.id, tie.id],
            fixes: [],
          },
        ]
      }),
    ),
}

const pingPong: Rule = {
  id: 'flow/ping-pong',
  severity: 'note',
  title: 'To and fro between two lanes',
  why: 'Each handing over costs time and attention.',
  source: COMMON,
  threshold: { initial: 3, label: 'Swaps between two lanes' },
  check: (model, day) => {
    const most = thresholdOf(model, pingPong)
    return levelsOn(model, day).flatMap((process) => {
      const swaps = new Map<string, number>()
      const path = likelyPath(process)
      path.forEach((node, index) => {
        const before = path[index - 1]
        if (!before || before.lane === undefined || node.lane === undefined || before.lane === node.lane) return
        const key = [before.lane, node.lane].sort().join('\n')
        swaps.set(key, (swaps.get(key) ?? 0) + 1)
      })
      return [...swaps].flatMap(([key, count]) => {
        if (count < most) return []
        const lanes = key.split('\n').map((id) => process.lanes.find((lane) => lane.id === id))
        const names = lanes.map((lane) => `“${lane?.name ?? ''}”`).join(' and ')
        return [
          {
            message: `On the likely way a case swaps ${count} times between ${names}.`,
            subjects: lanes.flatMap((lane) => (lane ? [lane.id] : [])),
            fixes: [],
          },
        ]
      })
    })
  },
}

const laneRoleEmpty: Rule = {
  id: 'x/lane-role-empty',
  severity: 'warning',
  title: 'Nobody holds the role of a lane',
  why: 'What stands in a lane whose role nobody holds on this day is done by nobody.',
  source: COMMON,
  check: (model, day) =>
    levelsOn(model, day)
      .filter(({ inside }) => inside === undefined)
      .flatMap(({ lanes }) =>
        lanes.flatMap((lane) => {
          const { of, empty } = laneHolders(model, lane, day)
          return of && empty
            ? [
                {
                  message: `Nobody holds “${of.name}” on ${dayInWords(day)}, who stands behind lane “${lane.name}”.`,
                  subjects: [lane.id, of.id],
                  fixes: [],
                },
              ]
            : []
        }),
      ),
}

const systemRetired: Rule = {
  id: 'x/system-retired',
  severity: 'error',
  title: 'Uses a system that is not there',
  why: 'A step cannot be done with a system that is retired, or not there yet.',
  source: COMMON,
  check: (model, day) =>
    levelsOn(model, day).flatMap(({ nodes, lanes }) => {
      const used = [...nodes.values()].flatMap((node) => {
        const tool = node.entity.fields['tool']
        return typeof tool === 'string' ? [{ id: node.id, called: calledNode(node), tool, field: 'tool' }] : []
      })
      const behind = lanes.flatMap((lane) => {
        const of = lane.fields['of']
        return typeof of === 'string' ? [{ id: lane.id, called: `lane “${lane.name}”`, tool: of, field: 'of' }] : []
      })
      return [...used, ...behind].flatMap(({ id, called, tool, field }) => {
        const system = systemNamed(model.ofKind('system'), tool)
        if (!system || covers(system, day)) return []
        const state =
          system.to !== undefined && system.to < day
            ? `ended on ${dayInWords(system.to)}`
            : `begins on ${dayInWords(system.from ?? day)}`
        return [
          {
            message: `${called.charAt(0).toUpperCase()}${called.slice(1)} uses “${system.name}”, which ${state}.`,
            subjects: [id, system.id],
            fixes: [fix('Use none', { do: 'set-entity', id, path: `fields.${field}`, value: null })],
          },
        ]
      })
    }),
}

const systemNamed = (systems: readonly Entity[], text: string): Entity | undefined =>
  systems.find(({ id, name }) => id === (text as Id) || name === text)

export const peopleRules: readonly Rule[] = [
  accountable,
  responsible,
  sameHands,
  pingPong,
  laneRoleEmpty,
  systemRetired,
]
