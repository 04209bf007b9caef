import { join } from 'node:path'
import { Worker } from 'node:worker_threads'
import { TooLong } from '../services/errors'
import { errorOf, type Job, type Reply } from './parcel'
import type { Tasks } from './tasks'

const MEMORY_MB = 256

/**
 * Has a task carried out in a thread that is there for it alone and ended with it: what waits for somebody outside keeps no thread from others.
 * @throws TooLong; whatever the task throws in words; Error when it fails
 */
export function carryOutApart<T extends keyof Tasks>(
  task: T,
  wish: Parameters<Tasks[T]>[1],
  limit: number,
): Promise<Awaited<ReturnType<Tasks[T]>>> {
  const root = process.env['SKIVEL_ROOT'] ?? process.cwd()
  const worker = new Worker(join(root, 'src', 'server', 'threads', 'entry.mjs'), {
    resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB },
  })
  return new Promise<Awaited<ReturnType<Tasks[T]>>>((tell, refuse) => {
    const late = setTimeout(() => refuse(new TooLong('This takes too long, and was stopped.')), limit)
    worker.on('message', (reply: Reply | 'ready') => {
      if (reply === 'ready') return worker.postMessage({ task, wish } satisfies Job)
      clearTimeout(late)
      if ('done' in reply) tell(reply.done as Awaited<ReturnType<Tasks[T]>>)
      else refuse(errorOf(reply.failure))
    })
    worker.on('error', refuse)
    worker.on('exit', () => {
      clearTimeout(late)
      refuse(new TooLong('This was stopped.'))
    })
  }).finally(() => void worker.terminate())
}
