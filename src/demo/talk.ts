import { asId, type Change, type Id, type Model } from '../core/model'

/** What the staff of Marram Sound Ferries say of their charts. */
export interface DemoSaid {
  readonly id: string
  readonly thread?: string
  readonly view?: Id
  readonly fact?: Id
  readonly author: string
  readonly words: string
  readonly proposal?: Change
}

const whole = asId('whole-company')

/** Threads about the demo’s facts; one of them proposes to end what makes two managers of one. */
export function marramTalk(model: Model): readonly DemoSaid[] {
  const designer = [...model.entities.values()].find(({ name }) => name === 'Service designer')
  const owner = [...model.entities.values()].find(({ name }) => name === 'Product owner, booking')
  const line = [...model.relations.values()].find(
    ({ kind, source, target }) => kind === 'reports-to' && source === designer?.id && target === owner?.id,
  )
  const proposal: Change | undefined = line && {
    label: '“Service designer” reports to “Product owner, booking” until 30 Sep 2026',
    steps: [{ do: 'set-relation', id: line.id, path: 'to', value: '2026-09-30' }],
  }
  return [
    {
      id: 'talk-winter',
      view: whole,
      author: 'Tove Marrin',
      words: 'The winter relief is not in here yet. Is that so on purpose?',
    },
    {
      id: 'talk-winter-2',
      thread: 'talk-winter',
      author: 'Ondine Leigh',
      words: 'Yes, they are hired from December on. I will state them with their first day.',
    },
    ...(designer && proposal
      ? [
          {
            id: 'talk-designer',
            view: whole,
            fact: designer.id,
            author: 'Bo Fenner',
            words: 'Noemi has worked for the fares since October. Then she should report there, and not to me as well.',
            proposal,
          },
        ]
      : []),
  ]
}
