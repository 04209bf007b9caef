import { useEffect, useRef, useState } from 'react'
import type { Id, View } from '../../core/model'
import { notesIn, type ViewNote } from '../../core/notation'
import { addNote, moveNote, tieNote, writeNote } from '../frame'
import { select } from '../store/shown'
import { useParts, useWorkspace } from '../store/state'

/** Notes for readers of a view: numbered at its right, tied to a fact, a place or nothing. */
export function ReaderNotes({ view }: { view: View }) {
  const { model, selection } = useParts('model', 'selection')
  const notes = notesIn(view)
  const [first] = selection
  const about = first !== undefined && model.entities.has(first) ? first : undefined
  const [fresh, setFresh] = useState<string>()
  return (
    <section aria-labelledby="notes-title" className="border-b border-hairline px-4 py-2.5" data-testid="reader-notes">
      <div className="flex items-baseline justify-between">
        <h3 id="notes-title" className="caps">
          Notes for readers
        </h3>
        <button
          type="button"
          className="verb text-[12px]"
          title={
            about === undefined
              ? 'A note about nothing in particular'
              : `A note about “${model.entities.get(about)?.name ?? ''}”`
          }
          onClick={() => setFresh(addNote(view, 'New note', about))}
        >
          Add a note
        </button>
      </div>
      <ol>
        {notes.map((note, at) => (
          <NoteField
            key={`${note.id} ${note.words}`}
            view={view}
            note={note}
            number={at + 1}
            about={about}
            isFresh={note.id === fresh}
            onSeen={() => setFresh(undefined)}
          />
        ))}
      </ol>
    </section>
  )
}

interface NoteProps {
  readonly view: View
  readonly note: ViewNote
  readonly number: number
  /** The selected fact, that the note could be about. */
  readonly about: Id | undefined
  readonly isFresh: boolean
  readonly onSeen: () => void
}

function NoteField({ view, note, number, about, isFresh, onSeen }: NoteProps) {
  const { model, placing } = useParts('model', 'placing')
  const [typed, setTyped] = useState(note.words)
  const area = useRef<HTMLTextAreaElement>(null)
  useEffect(() => {
    if (!isFresh) return
    area.current?.focus()
    area.current?.select()
    onSeen()
  }, [isFresh, onSeen])
  const fact = note.fact
  const name = fact === undefined ? undefined : (model.entities.get(fact)?.name ?? 'what is gone')
  return (
    <li className="group grid grid-cols-[22px_1fr] py-1">
      <span
        aria-hidden
        className="numeric mt-px h-[16px] w-[16px] rounded-full bg-neutral text-center text-[10px] leading-[16px] text-neutral-content"
      >
        {number}
      </span>
      <div className="min-w-0">
        <textarea
          ref={area}
          aria-label={`Note ${number}`}
          rows={Math.min(6, Math.ceil(typed.length / 34) || 1)}
          maxLength={400}
          className="w-full resize-none border-b border-transparent bg-transparent leading-[18px] hover:border-hairline focus:border-primary focus:outline-none"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onBlur={() => writeNote(view, note, typed)}
          onKeyDown={(event) => {
            if (event.key === 'Enter' && !event.shiftKey) {
              event.preventDefault()
              event.currentTarget.blur()
            }
            if (event.key === 'Escape') {
              event.stopPropagation()
              setTyped(note.words)
            }
          }}
        />
        <p className="flex flex-wrap items-baseline gap-x-2.5 text-[12px] text-quiet">
          {fact !== undefined && (
            <button type="button" className="verb min-w-0 truncate" onClick={() => select([fact], { reveal: true })}>
              {name}
            </button>
          )}
          {note.at && <span>at a place</span>}
          {about !== undefined && about !== fact && (
            <button type="button" className="verb" onClick={() => tieNote(view, note, { fact: about })}>
              about what is selected
            </button>
          )}
          <button
            type="button"
            className="verb"
            aria-pressed={placing === note.id}
            onClick={() => useWorkspace.setState({ placing: placing === note.id ? undefined : note.id })}
          >
            {placing === note.id ? 'click on the sheet …' : 'at a place'}
          </button>
          {(fact !== undefined || note.at) && (
            <button type="button" className="verb" onClick={() => tieNote(view, note, {})}>
              about nothing
            </button>
          )}
          <button
            type="button"
            className="verb"
            aria-label={`Note ${number} earlier`}
            onClick={() => moveNote(view, note, -1)}
          >
            ↑
          </button>
          <button
            type="button"
            className="verb"
            aria-label={`Take note ${number} away`}
            onClick={() => writeNote(view, note, '')}
          >
            ×
          </button>
        </p>
      </div>
    </li>
  )
}
