import type { Day, Model } from '../../model'
import { processOn, type Process } from './structure'

/** Every level of every process that is in force on a day: the process itself, and the inside of each of its subprocesses. O(facts). */
export function levelsOn(model: Model, day: Day): Process[] {
  return model.ofKind('process').flatMap((process) => {
    const levels: Process[] = []
    const open = [processOn(model, process.id, day)]
    for (let level = open.pop(); level; level = open.pop()) {
      levels.push(level)
      for (const { id, type } of level.nodes.values())
        if (type === 'subprocess') {
          const inner = processOn(model, process.id, day, id)
          if (inner.nodes.size > 0) open.push(inner)
        }
    }
    return levels
  })
}
