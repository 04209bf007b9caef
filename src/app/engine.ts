import { wrap, type Remote } from 'comlink'
import type { Engine } from '../worker/engine'

/** The core in its own thread. */
export function startEngine(): Remote<Engine> {
  return wrap<Engine>(new Worker(new URL('../worker/worker.ts', import.meta.url), { type: 'module' }))
}
