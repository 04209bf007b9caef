import { describe, expect, it } from 'vitest'
import { isRefusal } from '../../../src/core/notation'
import { DAY } from '../../facts'
import { after, flowView, nodeNamed, outline, shown, text, told, wishOf } from './facts'

const CLAIM = `start: Claim arrives @ Desk
Read the claim
Is it complete?
  yes 80 %
    at once
      –
        Check the cover @ Clerk
      –
        Inform the customer @ Desk
    join all
    end: Claim settled
  no 20 %: go to Read the claim`

describe('the outline of a process', () => {
  it('is read and written as the same text', () => {
    const model = told(CLAIM)
    expect(text(model)).toBe(CLAIM)
    expect(shown(model).lanes.map(({ name }) => name)).toEqual(['Desk', 'Clerk'])
  })
  it('begins and ends by itself where the text does not say so', () => {
    const model = told('Pick goods\nPack goods')
    expect(text(model)).toBe('start\nPick goods\nPack goods\nend')
  })
  it('lets open branches meet in a gateway of their sort', () => {
    expect(text(told('at once\n  –\n    A b\n  –\n    C d\nE f'))).toBe(
      'start\nat once\n  –\n    A b\n  –\n    C d\njoin all\nE f\nend',
    )
  })
  it('refuses a way to nowhere, and changes nothing', () => {
    const empty = told('A b')
    const outcome = outline.paste(wishOf(empty), undefined, 'go to Nowhere')
    expect(isRefusal(outcome) && outcome.refused).toContain('There is no step “Nowhere”')
  })
  it('puts a new line into the flow', () => {
    const model = told('Pick goods\nSend goods')
    const next = after(model, outline.insert(wishOf(model), nodeNamed(model, 'Pick goods'), 'Pack goods'))
    expect(text(next)).toBe('start\nPick goods\nPack goods\nSend goods\nend')
  })
  it('turns a line into a question as it is typed, and a lane’s name into the lane once it is complete', () => {
    const model = told('start @ Desk\nA b @ Clerk\nIs it')
    const step = nodeNamed(model, 'Is it')
    const asked = after(model, outline.write(wishOf(model), step, 'Is it right?'))
    expect(shown(asked).nodes.get(step)).toMatchObject({ kind: 'gateway', type: 'exclusive' })
    const typing = after(asked, outline.write(wishOf(asked), step, 'Is it right? @ De'))
    expect(shown(typing).lanes).toHaveLength(2)
    const typed = after(typing, outline.write(wishOf(typing), step, 'Is it right? @ Desk'))
    expect(shown(typed).lanes.find(({ id }) => id === shown(typed).nodes.get(step)?.lane)?.name).toBe('Desk')
    expect(shown(typed).nodes.get(step)?.entity.name).toBe('Is it right?')
  })
  it('exchanges a step with its neighbour', () => {
    const model = told('A b\nC d\nE f')
    expect(text(after(model, outline.move(wishOf(model), nodeNamed(model, 'C d'), 1)))).toBe(
      'start\nA b\nE f\nC d\nend',
    )
    expect(text(after(model, outline.move(wishOf(model), nodeNamed(model, 'C d'), -1)))).toBe(
      'start\nC d\nA b\nE f\nend',
    )
    expect(outline.move(wishOf(model), nodeNamed(model, 'A b'), -1)).toHaveProperty('refused')
  })
  it('heals the flow around a line that is removed', () => {
    const model = told(CLAIM)
    expect(text(after(model, outline.remove(wishOf(model), nodeNamed(model, 'Check the cover'))))).not.toContain(
      'Check',
    )
    const healed = after(
      told('A b\nC d\nE f'),
      outline.remove(wishOf(told('A b\nC d\nE f')), nodeNamed(told('A b\nC d\nE f'), 'C d')),
    )
    expect(text(healed)).toBe('start\nA b\nE f\nend')
  })
  it('writes a branch’s label and share', () => {
    const model = told(CLAIM)
    const branch = outline.lines(model, flowView(), DAY).find((line) => line.text.startsWith('yes'))
    if (!branch) throw new Error('no branch')
    const next = after(model, outline.write(wishOf(model), branch.id, 'complete 75 %'))
    expect(next.relations.get(branch.id)?.fields).toMatchObject({ label: 'complete', share: 0.75 })
  })
})
