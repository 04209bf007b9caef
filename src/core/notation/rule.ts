import type { Acceptance, Change, Day, Id, Model } from '../model'

export type Severity = 'error' | 'warning' | 'note'

export interface Fix {
  readonly label: string
  readonly change: Change
}

/** One contradiction or doubt, in words that name the facts. */
export interface Finding {
  readonly rule: string
  readonly severity: Severity
  readonly message: string
  /** The facts concerned, the one to be marked first. */
  readonly subjects: readonly Id[]
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

export interface Rule {
  readonly id: string
  readonly severity: Severity
  readonly title: string
  readonly why: string
  /** Whose rule it is: a standard with its number, or “Common practice”. */
  readonly source: string
  /** A number that the workspace may set under `thresholds`, and what it is called there. */
  readonly threshold?: { readonly initial: number; readonly label: string }
  /** All findings of the rule; with a day in it where the rule speaks of one. */
  readonly check: (model: Model, day: Day) => readonly Omit<Finding, 'rule' | 'severity'>[]
}

export const thresholdOf = (model: Model, rule: Pick<Rule, 'id' | 'threshold'>): number =>
  model.settings.thresholds[rule.id] ?? rule.threshold?.initial ?? 0
