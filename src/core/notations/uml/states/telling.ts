import { grouped, type Day, type Id, type Model, type View } from '../../../model'
import type { OutlineLine } from '../../../notation'
import { ownFields } from '../telling'
import type { Ref } from '../typed'
import { machineShown, type Machine, type Region, type Transition, type Vertex } from './structure'
import { lineOf, typed, type Typed, type Within } from './words'

/** A fact with the line that states it. */
export interface Told {
  readonly id: Id
  readonly depth: number
  readonly typed: Typed
  readonly within: Within
  /** The state that it stands beneath. */
  readonly owner: Vertex | undefined
  /** What it states. */
  readonly fact: Vertex | Region | Transition
}

/** A state machine as lines: each state with what leads away from it, then with what stands in it. O(facts of it) */
export function told(machine: Machine): Told[] {
  const lines: Told[] = []
  const namesakes = grouped(machine.vertices, ({ name }) => name.toLowerCase())
  const refTo = ({ source, target }: Transition): Ref => {
    const all = namesakes.get(target.name.toLowerCase()) ?? []
    const near = all.filter(({ region }) => region === source.region)
    return { name: target.name, nth: [...near, ...all.filter((one) => !near.includes(one))].indexOf(target) + 1 }
  }
  const putVertex = (one: Vertex, depth: number, owner: Vertex | undefined, within: Within) => {
    const { form } = one
    const { form: _, ...own } = ownFields(one.entity)
    const fields = { ...own, form: form === 'state' ? undefined : form }
    lines.push({
      id: one.id,
      depth,
      typed: typed('state', one.name, fields, one.entity),
      within,
      owner,
      fact: one,
    })
    for (const leading of [...one.internal, ...one.out]) {
      const isInternal = leading.relation.fields['internal'] === true && leading.source === leading.target
      const { internal: __, ...stated } = ownFields(leading.relation)
      lines.push({
        id: leading.id,
        depth: depth + 1,
        typed: typed(
          'transition',
          '',
          { ...stated, internal: isInternal ? true : undefined },
          { ...datesOf(leading.relation), target: isInternal ? undefined : refTo(leading) },
        ),
        within: 'state',
        owner: one,
        fact: leading,
      })
    }
    putRegions(one.regions, depth + 1, one)
  }
  const putRegions = (regions: readonly Region[], depth: number, owner: Vertex | undefined) => {
    const within: Within = owner ? 'state' : 'elsewhere'
    for (const region of regions) {
      const { entity } = region
      if (entity)
        lines.push({
          id: entity.id,
          depth,
          typed: typed('region', entity.name, {}, entity),
          within,
          owner,
          fact: region,
        })
      for (const one of region.vertices)
        putVertex(one, entity ? depth + 1 : depth, owner, entity ? 'elsewhere' : within)
    }
  }
  putRegions(machine.regions, 0, undefined)
  return lines
}

export function linesOf(model: Model, view: View, day: Day): OutlineLine[] {
  const shown = machineShown(model, view, day)
  return shown ? told(shown).map(({ id, depth, typed: one, within }) => ({ id, depth, text: lineOf(one, within) })) : []
}

const datesOf = ({ from, to }: Transition['relation']) => ({ from, to })
