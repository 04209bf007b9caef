import type { CustomCellRendererProps } from 'ag-grid-react'
import type { Chip, Column } from '../../core/notation'
import { carryOut } from '../store/changes'
import { select } from '../store/shown'
import { useWorkspace } from '../store/state'

/** The parts of a value: each leads to its fact, and is taken off by its cross. */
export function Chips({ chips, named = false }: { chips: readonly Chip[]; named?: boolean }) {
  return chips.map(({ label, title, fact, off }) => (
    <span
      key={`${fact} ${label}`}
      className="group/chip relative inline-flex h-[18px] max-w-full shrink-0 items-center rounded-[3px] border border-hairline bg-wash text-[11px] leading-none"
    >
      <button
        type="button"
        tabIndex={named ? 0 : -1}
        title={title}
        className="truncate pr-4 pl-1.5 hover:underline"
        onClick={(event) => {
          event.stopPropagation()
          select([fact], { reveal: true })
        }}
      >
        {named ? title : label}
      </button>
      <button
        type="button"
        tabIndex={named ? 0 : -1}
        aria-label={`Take off ${title}`}
        className="absolute inset-y-0 right-0 w-4 rounded-r-[3px] bg-wash text-quiet opacity-0 group-hover/chip:opacity-100 hover:text-error focus:opacity-100"
        onClick={(event) => {
          event.stopPropagation()
          carryOut({ change: off })
        }}
      >
        ×
      </button>
    </span>
  ))
}

/** A cell of a register as chips; typing into it still edits its text. */
export function ChipCell({ data, chips }: CustomCellRendererProps & { chips: NonNullable<Column['chips']> }) {
  const { model, day } = useWorkspace.getState()
  const { id } = data as { id: Parameters<typeof chips>[1] }
  return (
    <span className="flex h-full items-center gap-1 overflow-hidden">
      <Chips chips={chips(model, id, day)} />
    </span>
  )
}
