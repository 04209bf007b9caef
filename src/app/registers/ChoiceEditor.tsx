import type { CustomCellEditorProps } from 'ag-grid-react'
import { useEffect, useId, useRef } from 'react'
import type { Column } from '../../core/notation'
import { useWorkspace } from '../store/state'

/** A cell that offers what it may hold, and takes anything else that its column understands. */
export function ChoiceEditor({
  value,
  onValueChange,
  eventKey,
  choices,
}: CustomCellEditorProps & { choices: Column['choices'] }) {
  const list = useId()
  const field = useRef<HTMLInputElement>(null)
  const { model, day } = useWorkspace.getState()
  const typedFirst = eventKey && eventKey.length === 1 ? eventKey : undefined
  useEffect(() => {
    field.current?.focus()
    if (typedFirst === undefined) field.current?.select()
  }, [typedFirst])
  const shown = String(value ?? '')
  return (
    <>
      <input
        ref={field}
        list={list}
        className="h-full w-full border-0 bg-base-100 px-3 text-[12px] outline-none"
        defaultValue={typedFirst ?? (shown.startsWith('—') ? '' : shown)}
        onChange={(event) => onValueChange(event.target.value)}
      />
      <datalist id={list}>
        {choices?.(model, day)
          .slice(0, 500)
          .map((choice) => (
            <option key={choice} value={choice} />
          ))}
      </datalist>
    </>
  )
}
