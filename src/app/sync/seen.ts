/** A field that somebody is in, and what of the facts they saw when they began to write there. */
interface Writing {
  readonly field: Element
  /** The revision that was shown. */
  revision: number
  /** What stood in the field then. */
  text: string
  /** Something was typed that is not stated yet. */
  isBegun: boolean
}

/** What is made on leaving a field is made a moment after it was left. */
const LEFT_MS = 120

let shown: () => number = () => 0
let writing: Writing | undefined
let pressed: number | undefined

const textOf = (field: Element): string =>
  field instanceof HTMLInputElement || field instanceof HTMLTextAreaElement ? field.value : (field.textContent ?? '')

const isField = (target: EventTarget | null): target is HTMLElement =>
  target instanceof HTMLElement && (target.matches('input, textarea, select') || target.isContentEditable)

/**
 * Notes from now on what somebody sees who begins to write in a field, or takes hold of something: whatever others do until it is stated was not seen, and is asked
 * about. `revision` says which one is shown.
 */
export function noteSeen(revision: () => number): void {
  const isFirst = shown === never
  shown = revision
  if (!isFirst) return
  addEventListener('focusin', ({ target }) => isField(target) && begin(target), true)
  addEventListener('beforeinput', ({ target }) => isField(target) && write(target), true)
  // A list to choose from is looked at when it is opened.
  addEventListener('pointerdown', ({ target }) => press(target), true)
  addEventListener('keydown', ({ target }) => target instanceof HTMLSelectElement && begin(target), true)
  addEventListener('pointerup', () => void setTimeout(() => (pressed = undefined), LEFT_MS), true)
  addEventListener('focusout', ({ target }) => void setTimeout(() => leave(target), LEFT_MS), true)
}

const never = shown

function begin(field: Element): void {
  writing = { field, revision: shown(), text: textOf(field), isBegun: false }
}

function press(target: EventTarget | null): void {
  pressed = shown()
  if (target instanceof HTMLSelectElement) begin(target)
}

function write(field: Element): void {
  // A field that was brought up to date before anything was typed shows what there is now.
  if (writing?.field !== field || (!writing.isBegun && textOf(field) !== writing.text)) begin(field)
  if (writing) writing.isBegun = true
}

function leave(target: EventTarget | null): void {
  if (writing?.field === target && document.activeElement !== target) writing = undefined
}

/** The revision that whoever states something now has seen of it. What is stated after that is begun anew. */
export function seenRevision(): number {
  const now = shown()
  const seen = Math.min(now, writing?.revision ?? now, pressed ?? now)
  if (writing) {
    writing.revision = now
    writing.text = textOf(writing.field)
    writing.isBegun = false
  }
  return seen
}
