import { afterAll, expect, it, vi } from 'vitest'
import type { Asked, Reading } from '../../src/worker/reading'
import { asDay, asId } from '../../src/core/model'

/** Questions in the order in which they were asked; the test answers them in any. */
const asked: { readonly question: Asked; readonly answer: (reading: unknown) => void }[] = []
const ENGINE = '../../src/app/engine'
vi.doMock(ENGINE, () => ({
  startEngine: () => ({
    offers: () => Promise.resolve([]),
    read: (question: Asked) => new Promise((answer) => asked.push({ question, answer })),
  }),
}))
// Others have the store by themselves, with no engine.
vi.resetModules()
const { beginEngine, redraw } = await import('../../src/app/store/asking')
const { useWorkspace } = await import('../../src/app/store/state')
afterAll(() => {
  vi.doUnmock(ENGINE)
  vi.resetModules()
})

it('notes of what was selected before never stand for what is selected now, in whatever order the answers come', async () => {
  const notesOf = (of: string) => ({ of }) as unknown as NonNullable<Reading['notes']>
  const answerTo = async (holds: (question: Asked) => boolean, reading: unknown): Promise<Asked | undefined> => {
    const at = await vi.waitUntil(() => asked.findIndex(({ question }) => holds(question)) + 1)
    const [one] = asked.splice(at - 1, 1)
    one?.answer(reading)
    return one?.question
  }
  useWorkspace.setState({ viewId: asId('v'), day: asDay('2026-11-24'), selection: [] })
  beginEngine()
  redraw()
  await vi.waitUntil(() => asked.some(({ question }) => question.wants.findings))
  const selection = [asId('somebody')]
  useWorkspace.setState({ selection })
  // What was asked later is answered first, and what was asked first comes afterwards.
  await answerTo(({ wants, selection: of }) => !wants.findings && of === selection, { notes: notesOf('somebody') })
  await vi.waitUntil(() => useWorkspace.getState().notes)
  await answerTo(({ wants }) => wants.findings === true, {
    findings: { kept: [], fresh: '[]' },
    notes: notesOf('everything'),
  })
  const again = await answerTo(({ wants }) => wants.notes === true, { notes: notesOf('somebody, again') })
  expect(again?.selection).toBe(selection)
  await vi.waitUntil(() => (useWorkspace.getState().notes as unknown as { of: string }).of === 'somebody, again')
})
