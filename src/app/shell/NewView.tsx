import { useEffect, useState, type ReactNode } from 'react'
import { bestFirst, type Gestures, type Handling, type Offer, type Sought } from '../../core/notation'
import { handlings } from '../../core/notations/handling'
import type { View } from '../../core/model'
import type { Scene } from '../../core/scene'
import type { NewView as Wanted } from '../../worker/contract'
import { clipboardText } from '../pasted'
import { beginAgain, bringIn, chooseFacts, isPortion } from '../portion'
import { become } from '../registers/becoming'
import { useTheme } from '../sheet/ground'
import { previewOf, startedWith } from '../store/asking'
import { carryOut } from '../store/changes'
import { currentView, notify, useParts, useWorkspace } from '../store/state'
import { addView } from '../views'
import { Dialog } from './Dialog'
import { Preview } from './Preview'

const close = () => useWorkspace.setState({ dialog: undefined, choosing: undefined })

/** What a preview has room for, in px. */
const ROOM = { width: 190, height: 92 }

/** So many are shown of what fits what is looked for. */
const MOST_FOUND = 12

/** Which view is to be made: each picture of a chapter with one's own facts in it, and its starters; or what fits some words, of all chapters. */
export function NewView() {
  const { choosing, offers, model } = useParts('choosing', 'offers', 'model')
  const [query, setQuery] = useState('')
  const notation = handlings.notations.find(({ id }) => id === choosing)
  if (!notation) return null
  const imports = offers?.notations[notation.id]?.imports ?? []
  const startersOf = ({ id }: Handling) => offers?.notations[id]?.starters ?? []
  const starters = startersOf(notation)
  const all = [...model.views.values()].filter(({ look }) => typeof look['starter'] === 'string')
  const own = all.filter((view) => view.notation === choosing)
  const found =
    query.trim() === ''
      ? undefined
      : bestFirst([...ownChoices(all), ...choicesOf(startersOf)], query).slice(0, MOST_FOUND)
  return (
    <Dialog title={`A new view: ${notation.chapter}`} width={900} onClose={close}>
      <input
        data-first
        type="search"
        aria-label="Look for a view or a starter"
        placeholder="onboarding, escalation, kick-off, rack, class, cycle …"
        className="mb-3 h-[28px] w-full border-b border-hairline bg-transparent outline-none focus:border-primary"
        value={query}
        onChange={({ target }) => setQuery(target.value)}
        onKeyDown={(event) => {
          const [first] = found ?? []
          if (event.key !== 'Enter' || !first) return
          // Else the word that opened the dialog, which has the focus again, would be pressed by the same key.
          event.preventDefault()
          close()
          first.take()
        }}
      />
      <p className="mb-3 flex flex-wrap items-baseline gap-x-4 text-quiet">
        Or from what you have:
        <button type="button" className="verb" onClick={() => leaveFor(() => void fromClipboard(notation))}>
          a list on the clipboard
        </button>
        {imports.length > 0 && currentView()?.notation === notation.id && (
          <button
            type="button"
            className="verb"
            onClick={() => leaveFor(() => useWorkspace.setState({ dialog: 'bring-in' }))}
          >
            a table
          </button>
        )}
        <button type="button" className="verb" onClick={() => leaveFor(chooseFacts)}>
          facts of another workspace
        </button>
      </p>
      <div className="max-h-[560px] space-y-4 overflow-y-auto">
        {found && (
          <Choices title="Enter takes the first">
            {found.map((one) => (
              <Choice key={one.key} title={one.title} line={one.summary} wanted={one.wanted} onTake={one.take} />
            ))}
          </Choices>
        )}
        {found?.length === 0 && <p className="text-quiet">Nothing fits “{query.trim()}”. Try another word.</p>}
        {!found && own.length > 0 && (
          <Choices title="Your own starters">
            {own.map((view) => (
              <Choice
                key={view.id}
                title={view.title}
                line={String(view.look['starter'])}
                wanted={{ notation: view.notation, view: view.id }}
                onTake={() => void beginAgain(view)}
              />
            ))}
          </Choices>
        )}
        {!found && (
          <Choices title="Of the facts that are here">
            {oneOfEach(notation.pictures).map((picture) => (
              <Choice
                key={picture.id}
                title={picture.title}
                line={picture.good}
                wanted={{ notation: notation.id, picture: picture.id }}
                onTake={() => addView(notation, picture)}
              />
            ))}
          </Choices>
        )}
        {!found && (starters.length > 0 || notation.blank) && (
          <Choices title="Something new">
            {notation.blank && (
              <Choice title="Empty" line="To be written from its first line on" onTake={() => addView(notation)} />
            )}
            {starters.map(({ id, title, summary }) => (
              <Choice
                key={id}
                title={title}
                line={summary}
                wanted={{ notation: notation.id, starter: id }}
                onTake={() => void begin(notation, id)}
              />
            ))}
          </Choices>
        )}
      </div>
    </Dialog>
  )
}

/** Once the dialog is away, so that another may open. */
const leaveFor = (then: () => void) => {
  close()
  setTimeout(then)
}

/** So many lines tell what a list is. */
const MOST_LINES = 200

/** A list that was copied elsewhere, as facts of a chapter with a view of their own. */
async function fromClipboard(notation: Handling): Promise<void> {
  let text = ''
  try {
    text = await clipboardText()
  } catch {
    return notify('The browser does not let the clipboard be read here. Paste it on the sheet instead.', 'refusal')
  }
  if (isPortion(text)) return bringIn(text)
  const lines = text.split('\n').slice(0, MOST_LINES)
  const [reading] = notation.lists.toSorted((a, b) => b.likeness(lines) - a.likeness(lines))
  if (text.trim() === '') return notify('There is nothing on the clipboard.', 'refusal')
  if (!reading) return notify(`Lists are not read as ${notation.title.toLowerCase()}.`, 'refusal')
  become(text, reading.id)
}

interface Choosable extends Sought {
  readonly key: string
  readonly wanted: Wanted
  readonly take: () => void
}

/** Views of one’s own that are offered as starters. */
const ownChoices = (views: readonly View[]): readonly Choosable[] =>
  views.map((view) => ({
    key: view.id,
    title: view.title,
    summary: String(view.look['starter']),
    words: '',
    wanted: { notation: view.notation, view: view.id },
    take: () => void beginAgain(view),
  }))

/** The starters of all chapters, then their pictures of the facts that are here. */
const choicesOf = (startersOf: (notation: Handling) => Offer['starters']): readonly Choosable[] => [
  ...handlings.notations.flatMap((notation) =>
    startersOf(notation).map(({ id, title, summary, words }) => ({
      key: `${notation.id}/${id}`,
      title,
      summary: `${notation.chapter}: ${summary}`,
      words,
      wanted: { notation: notation.id, starter: id },
      take: () => void begin(notation, id),
    })),
  ),
  ...handlings.notations.flatMap((notation) =>
    notation.pictures.map((picture) => ({
      key: `${notation.id} ${picture.id}`,
      title: picture.title,
      summary: `${notation.chapter}: ${picture.good}`,
      words: picture.arranges?.words ?? '',
      wanted: { notation: notation.id, picture: picture.id },
      take: () => addView(notation, picture),
    })),
  ),
]

/** Of pictures that arrange the same lines the first of each family: the others are chosen beside the lines. */
const oneOfEach = (pictures: readonly Gestures[]): readonly Gestures[] =>
  pictures.filter(
    ({ arranges }, at) => !arranges || pictures.findIndex((other) => other.arranges?.family === arranges.family) === at,
  )

async function begin({ id }: Handling, starter: string): Promise<void> {
  carryOut(await startedWith(id, starter))
}

const Choices = ({ title, children }: { title: string; children: ReactNode }) => (
  <section aria-label={title}>
    <h3 className="caps mb-1.5">{title}</h3>
    <ul className="grid grid-cols-4 gap-3 narrow:grid-cols-2">{children}</ul>
  </section>
)

function Choice({ title, line, wanted, onTake }: { title: string; line: string; wanted?: Wanted; onTake: () => void }) {
  const drawn = useDrawn(wanted)
  const theme = useTheme(undefined)
  return (
    <li>
      <button
        type="button"
        className="group block w-full text-left"
        onClick={() => {
          close()
          onTake()
        }}
      >
        <span
          aria-hidden
          className="sheet relative block h-[108px] overflow-hidden rounded-[3px] border border-hairline group-hover:border-primary group-focus-visible:border-primary"
        >
          {wanted && typeof drawn === 'string' && (
            <span className="block p-3 text-[12px] text-quiet">
              {drawn === 'none' ? 'Nothing to show yet.' : 'Too much for so small a picture.'}
            </span>
          )}
          {typeof drawn === 'object' && <Preview scene={drawn} theme={theme} room={ROOM} />}
        </span>
        <span className="mt-1 block font-semibold group-hover:underline">{title}</span>
        <span className="block text-[12px] leading-4 text-quiet">{line}</span>
      </button>
    </li>
  )
}

type Drawn = Scene | 'none' | 'too much'

/** A view as the worker draws it; in a word where there is nothing in it, or too much. */
function useDrawn(wanted: Wanted | undefined): Drawn | undefined {
  const [drawn, setDrawn] = useState<Drawn | undefined>(undefined)
  const { notation, picture, starter, view } = wanted ?? {}
  useEffect(() => {
    let current = true
    if (notation === undefined) return setDrawn('none')
    previewOf({
      notation,
      ...(picture ? { picture } : {}),
      ...(starter ? { starter } : {}),
      ...(view ? { view } : {}),
    }).then(
      (scene) => current && setDrawn(!scene ? 'too much' : scene.items.length > 0 ? scene : 'none'),
      () => current && setDrawn('none'),
    )
    return () => {
      current = false
    }
  }, [notation, picture, starter, view])
  return drawn
}
