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
  it('takes a step behind the label of its branch, and what stands beneath follows it', () => {
    const model = told(
      'Receive the claim @ Service desk\nIs it complete?\n  yes: Approve it @ Lead\n    Pay it @ Accounts\n  no 20 %: Ask for the rest @ Service desk\n    go to Receive the claim',
    )
    expect(text(model)).toBe(`start @ Service desk
Receive the claim
Is it complete?
  yes
    Approve it @ Lead
    Pay it @ Accounts
    end @ Service desk
  no 20 %
    Ask for the rest
    go to Receive the claim`)
    expect(text(told('A?\n  end: Refused\n  yes: B c\nend'))).toBe(
      'start\nA?\n  –\n    end: Refused\n  yes\n    B c\n    end',
    )
  })
  it('counts lines as they were pasted', () => {
    const model = told('A?\n  yes: B c\n  no: go to line 4\n  perhaps: D e\nend')
    expect(text(model)).toBe('start\nA?\n  yes\n    B c\n  no\n    D e\n  perhaps: go to D e\njoin\nend')
  })
  it('says of a step that is typed behind the label of a branch where it goes, and changes nothing', () => {
    const model = told('A?\n  yes\n    B c\n  no\n    D e')
    const flow = model.relationsOfKind('flow').find(({ fields }) => fields['label'] === 'no')
    expect(flow && outline.write(wishOf(model), flow.id, 'never 5 %: Look again')).toEqual({
      refused: '“Look again” is a step: it goes on a line of its own, beneath its branch.',
    })
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
    // A lane that is not there yet is made: nothing that was typed is lost.
    const placed = after(model, outline.insert(wishOf(model), nodeNamed(model, 'Pick goods'), 'Pack goods @ Store'))
    expect(text(placed)).toBe('start\nPick goods\nPack goods @ Store\nSend goods @ –\nend')
  })
  it('turns a line into a question as it is typed, and puts it into the lane that it names, made where there is none', () => {
    const model = told('start @ Desk\nA b @ Clerk\nIs it')
    const step = nodeNamed(model, 'Is it')
    const asked = after(model, outline.write(wishOf(model), step, 'Is it right?'))
    expect(shown(asked).nodes.get(step)).toMatchObject({ kind: 'gateway', type: 'exclusive' })
    const elsewhere = after(asked, outline.write(wishOf(asked), step, 'Is it right? @ Night desk'))
    expect(shown(elsewhere).lanes.map(({ name }) => name)).toEqual(['Desk', 'Clerk', 'Night desk'])
    const typed = after(elsewhere, outline.write(wishOf(elsewhere), step, 'Is it right? @ desk'))
    expect(shown(typed).lanes).toHaveLength(3)
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
