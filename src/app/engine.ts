import { wrap, type Remote } from 'comlink'
import type { Engine } from '../worker/contract'

const newWorker = () => new Worker(new URL('../worker/worker.ts', import.meta.url), { type: 'module' })

/** The core in its own thread. */
export function startEngine(): Remote<Engine> {
  return wrap<Engine>(newWorker())
}

let spare: Worker | undefined

/** Has a thread ready before it is needed: loading its program takes a moment. */
export function keepSpare(): void {
  spare ??= newWorker()
}

/** The core in a thread that can be ended while it works. */
export function startStoppable(): { engine: Remote<Engine>; stop: () => void } {
  const worker = spare ?? newWorker()
  spare = undefined
  return { engine: wrap<Engine>(worker), stop: () => worker.terminate() }
}
