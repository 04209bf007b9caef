import type { Acceptance, Change, Day, Entity, Id, Model, Relation } from '../model'

export type Severity = 'error' | 'warning' | 'note'

export interface Fix {
  readonly label: string
  readonly change: Change
}

/** One contradiction or doubt, in words that name the facts. */
export interface Finding {
  readonly rule: string
  readonly severity: Severity
  /** What happened, where the rule’s title says it less well. */
  readonly title?: string
  readonly message: string
  /** The facts concerned, the one to be marked first. */
  readonly subjects: readonly Id[]
  /** What of these facts it is about, where a rule may find several things about the same. */
  readonly about?: string
  readonly fixes: readonly Fix[]
  /** How it comes to it, moment by moment: what the sheet marks while it is played, and words to it. */
  readonly trace?: readonly Moment[]
  /** The rule itself could not be carried out: what it would have found is not known. */
  readonly failed?: true
  /** Set where somebody lets it stand. */
  readonly accepted?: Acceptance
}

export interface Moment {
  readonly at: readonly Id[]
  readonly words: string
}

/** A finding as its rule tells it. */
export type Found = Omit<Finding, 'rule' | 'severity'>

/** The source of a rule that is a fact of the trade and stands in no standard. */
export const COMMON = 'Common practice'

/** What a rule looks at. It is not run again until some of it has changed, which must make no difference. */
export interface Reads {
  /** Kinds of facts by which it finds something: any change but one of words, or a change of these paths. `*` is every kind. */
  readonly facts: Readonly<Record<string, true | readonly string[]>>
  /** Kinds that stand in what it says, `*ties` being every relation: any change of them matters to what was found about them or about what they are tied to. */
  readonly names?: readonly string[]
  /** Kinds of which it looks at names and notes, too. */
  readonly words?: readonly string[]
}

/** Paths that say nothing but words. */
export const WORDS: ReadonlySet<string> = new Set(['name', 'fields.note', 'fields.alt', 'fields.link'])

export interface Rule {
  readonly id: string
  readonly severity: Severity
  readonly title: string
  readonly why: string
  /** Whose rule it is: a standard with its number, or “Common practice”. */
  readonly source: string
  /** A number that the workspace may set under `thresholds`, and what it is called there. */
  readonly threshold?: { readonly initial: number; readonly label: string }
  /** Left out for a rule that looks at everything: it is run after every change. */
  readonly reads?: Reads
  /** Set where the rule judges facts one by one. */
  readonly each?: Each
  /** All findings of the rule; with a day in it where the rule speaks of one. */
  readonly check: (model: Model, day: Day) => readonly Found[]
}

/** A judgement that goes by the fact itself, what it is tied to, and the ties of that, and by nothing further away. */
export interface Each {
  readonly of: (model: Model) => Iterable<Entity | Relation>
  readonly judge: (model: Model, fact: Entity | Relation, day: Day) => readonly Found[]
}

/** A rule that judges facts one by one: after a change only those near to it are judged again. */
export const judging = <T extends Entity | Relation>(
  rule: Omit<Rule, 'check' | 'each'>,
  of: (model: Model) => Iterable<T>,
  judge: (model: Model, fact: T, day: Day) => readonly Found[],
): Rule => ({
  ...rule,
  each: { of, judge: (model, fact, day) => judge(model, fact as T, day) },
  check: (model, day) => [...of(model)].flatMap((fact) => judge(model, fact, day)),
})

/** Rules that look at the same. */
export const reading = (reads: Reads, ...rules: readonly Rule[]): readonly Rule[] =>
  rules.map((rule) => ({ ...rule, reads: rule.reads ?? reads }))

export const thresholdOf = (model: Model, rule: Pick<Rule, 'id' | 'threshold'>): number =>
  model.settings.thresholds[rule.id] ?? rule.threshold?.initial ?? 0
