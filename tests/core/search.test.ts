import { describe, expect, it } from 'vitest'
import { bestFirst } from '../../src/core/notation'
import { registry } from '../../src/core/notations'

const starters = registry.notations.flatMap((notation) =>
  notation.starters.map(({ id, title, summary, words }) => ({ id: `${notation.id}/${id}`, title, summary, words })),
)
const first = (query: string) => bestFirst(starters, query)[0]?.id

describe('starters', () => {
  it('are sixty or more, in every chapter, no two of one name', () => {
    expect(starters.length).toBeGreaterThanOrEqual(60)
    expect(new Set(starters.map(({ title }) => title)).size).toBe(starters.length)
    for (const { starters: own } of registry.notations) expect(own.length).toBeGreaterThan(2)
  })
  // What somebody who has never seen the program may type, slips of the finger among it.
  it.each([
    ['onboarding', 'process/onboarding'],
    ['onbording', 'process/onboarding'],
    ['new employee', 'process/onboarding'],
    ['hiring', 'process/onboarding'],
    ['offboarding', 'process/leaving'],
    ['escalation', 'process/escalation'],
    ['esclation', 'process/escalation'],
    ['incident', 'process/incident'],
    ['outage', 'process/incident'],
    ['purchase order', 'process/purchase'],
    ['procurement', 'process/purchase'],
    ['complaint', 'process/complaint'],
    ['compliant', 'process/complaint'],
    ['change request', 'process/change'],
    ['vacation', 'process/leave'],
    ['permissions', 'process/access'],
    ['approval', 'process/request'],
    ['kickoff', 'schedule/kickoff'],
    ['kick-off', 'schedule/kickoff'],
    ['relocation', 'schedule/office-move'],
    ['audit', 'schedule/audit'],
    ['release', 'schedule/release'],
    ['gantt', 'schedule/project'],
    ['deadline', 'schedule/event'],
    ['rack', 'network/branches'],
    ['firewall', 'network/office'],
    ['wifi', 'network/small-office'],
    ['class', 'uml/orders'],
    ['login', 'uml/signing-in'],
    ['use case', 'uml/library-desk'],
    ['state machine', 'uml/approval'],
    ['cycle', 'figure/improve'],
    ['funnel', 'figure/from-visit-to-order'],
    ['venn', 'figure/where-teams-meet'],
    ['pyramid', 'figure/what-it-rests-on'],
    ['pyramide', 'figure/what-it-rests-on'],
    ['priority', 'figure/effort-and-use'],
    ['pros and cons', 'figure/for-and-against'],
    ['checklist', 'figure/ready-to-open'],
    ['concept map', 'figure/how-it-hangs-together'],
    ['org chart', 'organisation/departments'],
    ['helpdesk', 'organisation/service-desk'],
    ['hospital', 'organisation/clinic'],
    ['teachers', 'organisation/school'],
  ])('“%s” finds %s first', (query, id) => expect(first(query)).toBe(id))
  it('are all there for no words, and none where a word fits nothing', () => {
    expect(bestFirst(starters, '  ')).toBe(starters)
    expect(bestFirst(starters, 'zeppelin')).toEqual([])
    expect(bestFirst(starters, 'incident zeppelin')).toEqual([])
    expect(first('ESCALATION!')).toBe('process/escalation')
    expect(first('éscalation')).toBe('process/escalation')
  })
  it('are looked for by the first words of very many', () => {
    expect(first(`${'incident '.repeat(8)}zeppelin`)).toBe('process/incident')
    expect(first(`incident${' '.repeat(100_000)}zeppelin`)).toBe('process/incident')
  })
})
