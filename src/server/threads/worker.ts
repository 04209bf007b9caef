import { parentPort } from 'node:worker_threads'
import { Model } from '../../core/model'
import { MOST_KNOWN } from './limits'
import { failureOf, packed, unpacked, type Job, type Reply } from './parcel'
import { tasks } from './tasks'

/** Models that were used last, in the order in which the crew knows them. */
const known = new Map<string, Model>()

function modelOf(facts: Job['facts']): Model {
  if (!facts) return Model.empty
  const model = facts.parcel ? unpacked(facts.parcel) : known.get(facts.key)
  if (!model) throw new Error(`the facts ${facts.key} are not here`)
  known.delete(facts.key)
  known.set(facts.key, model)
  const [oldest] = known.keys()
  if (known.size > MOST_KNOWN && oldest !== undefined) known.delete(oldest)
  return model
}

async function carriedOut({ task, wish, facts }: Job): Promise<Reply> {
  try {
    const run = (tasks as unknown as Readonly<Record<string, (model: Model, wish: unknown) => unknown>>)[task]
    if (!run) throw new Error(`there is no task ${task}`)
    const done = await run(modelOf(facts), wish)
    if (typeof done === 'object' && done !== null && 'model' in done && done.model instanceof Model)
      return { done: { ...done, model: packed(done.model) } }
    return { done }
  } catch (error) {
    return { failure: failureOf(error) }
  }
}

/** What cannot travel is told in words instead: whoever waits is answered. */
function answer(reply: Reply): void {
  try {
    parentPort?.postMessage(reply)
  } catch (error) {
    parentPort?.postMessage({ failure: failureOf(error) } satisfies Reply)
  }
}

parentPort?.on('message', (job: Job) => void carriedOut(job).then(answer))
parentPort?.postMessage('ready')
