import { wrap, type Remote } from 'comlink'
import type { Engine } from '../worker/contract'

const newWorker = () => new Worker(new URL('../worker/worker.ts', import.meta.url), { type: 'module' })

let spare: Worker | undefined

/** Has a thread ready before it is needed: loading its program takes a moment. */
export function keepSpare(): void {
  spare ??= newWorker()
}

function taken(): Worker {
  const worker = spare ?? newWorker()
  spare = undefined
  return worker
}

/** The core in its own thread. */
export const startEngine = (): Remote<Engine> => wrap<Engine>(taken())

/** The core in a thread that can be ended while it works. */
export function startStoppable(): { engine: Remote<Engine>; stop: () => void } {
  const worker = taken()
  return { engine: wrap<Engine>(worker), stop: () => worker.terminate() }
}
