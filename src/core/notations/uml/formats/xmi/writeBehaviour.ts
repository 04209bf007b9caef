import { grouped, type Entity, type Id, type Relation } from '../../../../model'
import { inOrder, textOf } from '../../../../notation'
import { SILENT } from '../../sequences/structure'
import { MESSAGE_SORTS, PSEUDOSTATES } from './names'
import type { Pen, Stated } from './pen'
import { typedEl, type El } from './tree'

/** State machines and interactions as elements of UML. */
export class BehaviourWriter {
  constructor(private readonly pen: Pen) {}

  readonly #events = new Map<string, string>()

  machine(one: Entity, name: string): El {
    const states = this.pen.of('state', 'machine').get(one.id) ?? []
    const regions = this.pen.of('region', 'machine').get(one.id) ?? []
    const ids = new Set([...states, ...regions].map(({ id }) => id))
    const homeOf = (each: Entity) => (ids.has(each.fields['within'] as Id) ? String(each.fields['within']) : '')
    const inside = grouped(states, homeOf)
    const parts = grouped(regions, homeOf)
    const region = (id: string, named: string | undefined, list: readonly Entity[], seen: ReadonlySet<string>): El =>
      typedEl('region', 'Region', id, { name: named }, [
        ...list.map((each) => state(each, seen)),
        ...list.flatMap((each) => this.pen.leaving('transition', each).map((tie) => this.#transition(tie))),
      ])
    const regionsIn = (home: Stated, key: string, seen: ReadonlySet<string>): readonly El[] => {
      const direct = (inside.get(key) ?? []).filter(({ id }) => !seen.has(id))
      return [
        ...(direct.length > 0 ? [region(this.pen.part(home, 'region'), undefined, direct, seen)] : []),
        ...(parts.get(key) ?? []).map((each) =>
          region(this.pen.idOf(each), each.name, inside.get(each.id) ?? [], seen),
        ),
      ]
    }
    const state = (each: Entity, above: ReadonlySet<string>): El => {
      const form = String(each.fields['form'] ?? 'state')
      if (form === 'final') return this.pen.box('subvertex', 'FinalState', each)
      const pseudo = PSEUDOSTATES[form]
      if (pseudo !== undefined)
        return this.pen.box('subvertex', 'Pseudostate', each, { kind: pseudo === 'initial' ? undefined : pseudo })
      const seen = new Set([...above, each.id])
      return this.pen.box('subvertex', 'State', each, {}, [
        this.pen.expression('entry', each, 'entry', textOf(each, 'entry'), 'OpaqueBehavior'),
        this.pen.expression('exit', each, 'exit', textOf(each, 'exit'), 'OpaqueBehavior'),
        this.pen.expression('doActivity', each, 'do', textOf(each, 'do'), 'OpaqueBehavior'),
        ...regionsIn(each, each.id, seen),
      ])
    }
    return this.pen.box(name, 'StateMachine', one, {}, regionsIn(one, '', new Set()))
  }

  #transition(tie: Relation): El {
    const triggers = triggersIn(textOf(tie, 'trigger') ?? '')
    const guard = this.pen.expression('specification', tie, 'condition', textOf(tie, 'guard'))
    return typedEl(
      'transition',
      'Transition',
      this.pen.idOf(tie),
      {
        source: this.pen.ref(tie.source),
        target: this.pen.ref(tie.target),
        kind: tie.fields['internal'] === true ? 'internal' : undefined,
      },
      [
        guard && typedEl('ownedRule', 'Constraint', this.pen.part(tie, 'guard'), {}, [guard]),
        ...triggers.map((trigger, at) =>
          typedEl('trigger', 'Trigger', this.pen.part(tie, at === 0 ? 'trigger' : `trigger-${at + 1}`), {
            name: trigger,
            event: this.#event(trigger),
          }),
        ),
        this.pen.expression('effect', tie, 'effect', textOf(tie, 'effect'), 'OpaqueBehavior'),
        ...this.pen.beside(tie),
      ],
    )
  }

  /** A trigger needs an event (UML 2.5.1, 13.4.9): one for each text. */
  #event(text: string): string {
    const id = this.#events.get(text) ?? this.pen.unused(`event-${this.#events.size + 1}`)
    this.#events.set(text, id)
    return id
  }
  eventEls = (): readonly El[] =>
    [...this.#events].map(([name, id]) => {
      const signal = this.pen.classOf('signal', name)
      const [, word, time] = /^(after|at)\s+(.+)$/i.exec(name) ?? []
      if (signal !== undefined) return typedEl('packagedElement', 'SignalEvent', id, { signal })
      if (word === undefined) return typedEl('packagedElement', 'AnyReceiveEvent', id, { name })
      const [when, literal] = [this.pen.unused(`${id}.when`), this.pen.unused(`${id}.expr`)]
      const expr = typedEl('expr', 'LiteralString', literal, { value: time })
      return typedEl(
        'packagedElement',
        'TimeEvent',
        id,
        { isRelative: word.toLowerCase() === 'after' ? 'true' : undefined },
        [typedEl('when', 'TimeExpression', when, {}, [expr])],
      )
    })

  interaction(one: Entity): El {
    const lifelines = this.pen.of('lifeline', 'interaction').get(one.id) ?? []
    const events = inOrder([
      ...(this.pen.of('call', 'interaction').get(one.id) ?? []),
      ...(this.pen.of('operand', 'interaction').get(one.id) ?? []),
    ])
    const ids = new Set(events.map(({ id }) => id))
    const inside = grouped(events, ({ fields }) => (ids.has(fields['within'] as Id) ? String(fields['within']) : ''))
    const covered = new Map<string, string[]>()
    const messages: El[] = []
    const occurrence = (call: Entity, end: 'from' | 'to'): El => {
      const id = this.pen.part(call, end)
      const lifeline = this.pen.ref(call.fields[end])
      if (lifeline !== undefined) covered.set(lifeline, [...(covered.get(lifeline) ?? []), id])
      return typedEl('fragment', 'MessageOccurrenceSpecification', id, {
        covered: lifeline,
        message: this.pen.idOf(call),
      })
    }
    const walk = (key: string, seen: ReadonlySet<string>): readonly El[] => {
      const list = (inside.get(key) ?? []).filter(({ id }) => !seen.has(id))
      const made: El[] = []
      for (let at = 0; at < list.length; at++) {
        const each = list[at]
        if (!each) break
        if (each.kind === 'call') {
          const [from, to] = [occurrence(each, 'from'), occurrence(each, 'to')]
          made.push(from, to)
          messages.push(
            this.pen.box('message', 'Message', each, {
              name: each.name === SILENT ? undefined : each.name,
              messageSort: MESSAGE_SORTS[String(each.fields['sort'] ?? 'asks')],
              sendEvent: from.attributes['xmi:id'],
              receiveEvent: to.attributes['xmi:id'],
            }),
          )
          continue
        }
        const { operator, next } = operatorOf(String(each.fields['sort']))
        const operands = [each]
        while (next !== undefined && list[at + 1]?.kind === 'operand' && list[at + 1]?.fields['sort'] === next)
          operands.push(list[++at] as Entity)
        made.push(
          typedEl(
            'fragment',
            'CombinedFragment',
            this.pen.part(each, 'fragment'),
            { interactionOperator: operator },
            operands.map((operand) => this.#operand(operand, walk(operand.id, new Set([...seen, operand.id])))),
          ),
        )
      }
      return made
    }
    const fragments = walk('', new Set())
    return this.pen.box('packagedElement', 'Interaction', one, {}, [
      ...lifelines
        .map((each) => this.pen.part(each, 'part'))
        .map((id, at) => {
          const lifeline = lifelines[at] as Entity
          return typedEl('ownedAttribute', 'Property', id, {
            name: lifeline.name,
            type: this.pen.ref(lifeline.fields['class']),
          })
        }),
      ...lifelines.map((each) =>
        this.pen.box('lifeline', 'Lifeline', each, {
          represents: this.pen.part(each, 'part'),
          coveredBy: covered.get(this.pen.idOf(each))?.join(' '),
        }),
      ),
      ...fragments,
      ...messages,
    ])
  }

  #operand(one: Entity, inner: readonly El[]): El {
    const guard = one.name === SILENT ? undefined : this.pen.expression('specification', one, 'condition', one.name)
    return this.pen.box('operand', 'InteractionOperand', one, { name: undefined }, [
      guard && typedEl('guard', 'InteractionConstraint', this.pen.part(one, 'guard'), {}, [guard]),
      ...inner,
    ])
  }
}

/** The triggers of a text, set apart by commas outside of parentheses. */
function triggersIn(text: string): string[] {
  const parts: string[] = []
  let [depth, from] = [0, 0]
  for (const [at, sign] of [...text, ','].entries()) {
    if (sign === '(' || sign === '[') depth++
    else if (sign === ')' || sign === ']') depth--
    else if (sign === ',' && (depth <= 0 || at === [...text].length)) {
      parts.push([...text].slice(from, at).join('').trim())
      from = at + 1
    }
  }
  return parts.filter(Boolean)
}

/** What an operand of a sort stands in, and which goes on with it. */
const operatorOf = (sort: string): { readonly operator: string; readonly next?: string } =>
  sort === 'either' || sort === 'or'
    ? { operator: 'alt', next: 'or' }
    : sort === 'while'
      ? { operator: 'loop' }
      : sort === 'at once' || sort === 'meanwhile'
        ? { operator: 'par', next: 'meanwhile' }
        : { operator: 'opt' }
