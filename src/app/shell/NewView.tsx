import { useEffect, useState, type ReactNode } from 'react'
import type { Gestures, Handling } from '../../core/notation'
import { handlings } from '../../core/notations/handling'
import type { Scene } from '../../core/scene'
import type { NewView as Wanted } from '../../worker/contract'
import { useTheme } from '../sheet/ground'
import { previewOf, startedWith } from '../store/asking'
import { carryOut } from '../store/changes'
import { useParts, useWorkspace } from '../store/state'
import { addView } from '../views'
import { Dialog } from './Dialog'
import { Preview } from './Preview'

const close = () => useWorkspace.setState({ dialog: undefined, choosing: undefined })

/** What a preview has room for, in px. */
const ROOM = { width: 190, height: 92 }

/** Which view is to be made: each picture of a chapter with one's own facts in it, and the chapter's starters. */
export function NewView() {
  const { choosing, offers } = useParts('choosing', 'offers')
  const notation = handlings.notations.find(({ id }) => id === choosing)
  if (!notation) return null
  const starters = offers?.notations[notation.id]?.starters ?? []
  return (
    <Dialog title={`A new view: ${notation.chapter}`} width={900} onClose={close}>
      <div className="max-h-[620px] space-y-4 overflow-y-auto">
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
        {(starters.length > 0 || notation.blank) && (
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
    <ul className="grid grid-cols-4 gap-3">{children}</ul>
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
  const { notation, picture, starter } = wanted ?? {}
  useEffect(() => {
    let current = true
    if (notation === undefined) return setDrawn('none')
    previewOf({ notation, ...(picture ? { picture } : {}), ...(starter ? { starter } : {}) }).then(
      (scene) => current && setDrawn(!scene ? 'too much' : scene.items.length > 0 ? scene : 'none'),
      () => current && setDrawn('none'),
    )
    return () => {
      current = false
    }
  }, [notation, picture, starter])
  return drawn
}
