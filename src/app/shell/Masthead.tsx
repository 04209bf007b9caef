import { useState } from 'react'
import { make } from '../store/changes'
import { toFindings } from '../store/shown'
import { useParts, useWorkspace } from '../store/state'
import { Mark } from './Mark'
import { Menu } from './Menu'
import { Tally } from './Tally'

/** Mark, workspace, the one field that finds and does, how many findings, how it stands with the server, and Hand out. */
export function Masthead() {
  const { id, model, notes, standing, undoable, redoable, proposing } = useParts(
    'id',
    'model',
    'notes',
    'standing',
    'undoable',
    'redoable',
    'proposing',
  )
  const [naming, setNaming] = useState(false)
  const counts = notes?.counts.all ?? { error: 0, warning: 0, note: 0 }
  return (
    <header className="flex h-[44px] shrink-0 items-center gap-4 border-b border-hairline bg-base-100 px-4 narrow:gap-3 narrow:px-3">
      <a href="/" className="flex items-center gap-2.5 text-[15px] font-semibold" aria-label="Skivel, all workspaces">
        <Mark /> <span className="narrow:hidden">Skivel</span>
      </a>
      {naming ? (
        <NameField name={model.name} onEnd={() => setNaming(false)} />
      ) : (
        <Menu
          label={`Workspace ${model.name}`}
          className="max-w-[230px] truncate font-semibold narrow:max-w-[34%]"
          trigger={<>{model.name} ▾</>}
          entries={[
            { label: 'Rename', run: () => setNaming(true) },
            { label: 'History', run: () => useWorkspace.setState({ dialog: 'history' }) },
            { label: 'Limits of the rules', run: () => useWorkspace.setState({ dialog: 'limits' }) },
            { label: 'Save as a file', run: () => void window.location.assign(`/api/workspaces/${id}/file`) },
            null,
            { label: 'All workspaces', run: () => void window.location.assign('/') },
          ]}
        />
      )}
      <div className="flex min-w-0 flex-1 justify-center">
        <button
          type="button"
          className="flex h-[28px] w-full max-w-[380px] items-center justify-between rounded-[3px] border border-hairline bg-base-100 px-2.5 text-quiet hover:border-quiet"
          onClick={() => useWorkspace.setState({ dialog: 'go-to' })}
        >
          <span className="truncate">Go to or do…</span>
          <kbd className="numeric narrow:hidden rounded-[2px] border border-hairline px-1.5 text-[11px] leading-4">
            Ctrl K
          </kbd>
        </button>
      </div>
      <span className="sr-only" data-testid="undo-depth">
        {undoable.length} {redoable.length}
      </span>
      <button
        type="button"
        data-testid="tally"
        className="whitespace-nowrap narrow:hidden"
        onClick={() => {
          useWorkspace.setState({ selection: [] })
          toFindings()
        }}
      >
        {counts.error + counts.warning + counts.note > 0 ? (
          <Tally counts={counts} />
        ) : (
          <span className="text-success">no findings</span>
        )}
      </button>
      <span data-testid="standing" className="w-[52px] text-quiet max-sm:sr-only" role="status">
        {standing === 'saved' ? (proposing ? 'Aside' : 'Saved') : standing === 'saving' ? 'Saving' : 'Waiting'}
      </span>
      <button
        type="button"
        className="btn btn-primary btn-sm h-[28px] font-semibold whitespace-nowrap narrow:px-2"
        onClick={() => useWorkspace.setState({ dialog: 'hand-out' })}
      >
        Hand out
      </button>
    </header>
  )
}

function NameField({ name, onEnd }: { name: string; onEnd: () => void }) {
  const keep = (text: string) => {
    const next = text.trim().slice(0, 200)
    if (next !== '' && next !== name)
      make({ label: `Rename the workspace to “${next}”`, steps: [{ do: 'set-workspace', path: 'name', value: next }] })
    onEnd()
  }
  return (
    <input
      autoFocus
      aria-label="Name of the workspace"
      className="w-[230px] border-b border-primary bg-transparent font-semibold outline-none"
      defaultValue={name}
      maxLength={200}
      onFocus={(event) => event.target.select()}
      onBlur={(event) => keep(event.target.value)}
      onKeyDown={(event) => {
        if (event.key === 'Enter') keep(event.currentTarget.value)
        if (event.key === 'Escape') onEnd()
      }}
    />
  )
}
