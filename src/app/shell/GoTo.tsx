import { Command } from 'cmdk'
import { useMemo, useState } from 'react'
import { viewsInOrder } from '../../core/file'
import type { Entity, Id, Model } from '../../core/model'
import { nameIn } from '../../core/notation'
import { handlings } from '../../core/notations/handling'
import { act, currentNotation, offered } from '../actions'
import { today } from '../clock'
import { speak } from '../speak'
import { redo, undo } from '../store/changes'
import { select, showDay, showView } from '../store/shown'
import { useParts, useWorkspace, type Choosing } from '../store/state'
import { chooseFacts, copyFacts } from '../portion'
import { useCamera } from '../sheet/camera'
import { hasBranches, viewOfBranch } from '../views'
import { Dialog } from './Dialog'

const MOST = 40

interface Entry {
  readonly key: string
  readonly label: string
  readonly note?: string | undefined
  readonly run: () => void
}

/** The one field that finds anything and does anything. When an action needs another fact, it asks for that, in words of its own. */
export function GoTo() {
  const { pick } = useParts('pick')
  return <Finder key={pick?.prompt ?? ''} />
}

function Finder() {
  const { model, day, pick, selection } = useParts('model', 'day', 'pick', 'selection')
  const [query, setQuery] = useState('')
  const notation = currentNotation()
  const close = () => useWorkspace.setState({ dialog: undefined, pick: undefined })
  const words = query.trim().toLowerCase()

  const facts = useMemo(() => matching(model, words, pick), [model, words, pick])
  const factEntries = facts.map((entity): Entry => ({
    key: entity.id,
    label: nameIn(handlings, entity),
    note: notation?.describe(model, entity.id, day) ?? handlings.kinds.get(entity.kind)?.title,
    run: () => (pick ? pick.take(entity.id) : select([entity.id], { reveal: true })),
  }))
  const doing = pick ? [] : commands(selection[0]).filter(({ label }) => label.toLowerCase().includes(words))
  const views = pick
    ? []
    : viewsInOrder(model)
        .filter(({ title }) => title.toLowerCase().includes(words))
        .map((view): Entry => ({ key: view.id, label: view.title, run: () => showView(view.id) }))
  const group = (title: string, entries: readonly Entry[]) =>
    entries.length > 0 && (
      <Command.Group
        heading={title}
        className="[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-[11px] [&_[cmdk-group-heading]]:text-quiet"
      >
        {entries.map(({ key, label, note, run }) => (
          <Command.Item
            key={key}
            value={`${title} ${key}`}
            onSelect={() => {
              close()
              run()
            }}
            className="flex cursor-pointer items-baseline gap-3 px-3 py-[3px] data-[selected=true]:bg-wash"
          >
            <span className="truncate">{label}</span>
            {note && <span className="ml-auto shrink-0 truncate text-[12px] text-quiet">{note}</span>}
          </Command.Item>
        ))}
      </Command.Group>
    )
  return (
    <Dialog title={pick?.prompt ?? 'Go to or do'} width={520} onClose={close}>
      <Command className="outline-none" shouldFilter={false} label={pick?.prompt ?? 'Go to or do'}>
        <Command.Input
          data-first
          value={query}
          onValueChange={setQuery}
          placeholder={pick ? 'A name or a title' : 'A name, a view, or something to do'}
          className="h-[32px] w-full rounded-[3px] border border-hairline bg-base-100 px-3 outline-none focus:border-primary"
        />
        <Command.List className="mt-2 max-h-[320px] overflow-y-auto">
          <Command.Empty className="px-3 py-4 text-quiet">Nothing here is called that.</Command.Empty>
          {group('Do', doing)}
          {group('Views', views)}
          {group(pick ? 'Choose' : 'Facts', factEntries)}
        </Command.List>
      </Command>
    </Dialog>
  )
}

function commands(selected: Id | undefined): Entry[] {
  const own = offered().map((action): Entry => ({
    key: action.id,
    label: action.label,
    note: action.key,
    run: () => act(action),
  }))
  const dialog =
    (name: 'bring-in' | 'directory' | 'hand-out' | 'history' | 'keys' | 'limits' | 'proof' | 'themes') => () =>
      useWorkspace.setState({ dialog: name })
  const proof = useWorkspace.getState().proof
  return [
    ...own,
    ...(selected === undefined || !hasBranches()
      ? []
      : [{ key: 'branch', label: 'Open its branch as a view', run: () => viewOfBranch(selected) }]),
    { key: 'speak', label: 'Say something about it', note: '"', run: speak },
    { key: 'undo', label: 'Undo', note: 'Ctrl Z', run: undo },
    { key: 'redo', label: 'Redo', note: 'Ctrl Shift Z', run: redo },
    { key: 'fit', label: 'Fit the picture', note: '0', run: () => useCamera.getState().fit() },
    { key: 'today', label: 'Show today', run: () => showDay(today()) },
    {
      key: 'proof',
      label: proof ? 'Back to colours' : 'Proof in grey',
      run: () => useWorkspace.setState({ proof: proof ? undefined : 'grey' }),
    },
    { key: 'sights', label: 'Proof side by side', run: dialog('proof') },
    { key: 'themes', label: 'Theme', run: dialog('themes') },
    { key: 'hand-out', label: 'Hand out', run: dialog('hand-out') },
    ...(useWorkspace.getState().selection.length > 0
      ? [
          {
            key: 'copy',
            label: 'Copy the selected facts',
            note: 'Ctrl C',
            run: () => void copyFacts(useWorkspace.getState().selection),
          },
        ]
      : []),
    { key: 'bring-facts', label: 'Bring in facts of another workspace', run: chooseFacts },
    { key: 'bring-in', label: 'Bring in a table', run: dialog('bring-in') },
    { key: 'directory', label: 'Bring in from the directory', run: dialog('directory') },
    { key: 'history', label: 'History', run: dialog('history') },
    { key: 'limits', label: 'Limits of the rules', run: dialog('limits') },
    { key: 'keys', label: 'Keys', note: '?', run: dialog('keys') },
  ]
}

/** Facts by name: those that begin with the words first. O(facts). */
function matching(model: Model, words: string, pick: Choosing | undefined): Entity[] {
  const begin: Entity[] = []
  const hold: Entity[] = []
  for (const entity of model.entities.values()) {
    if (pick && (!pick.kinds.includes(entity.kind) || pick.offers?.has(entity.id) === false)) continue
    const at = holderNames(model, entity).findIndex((name) => name.includes(words))
    if (at < 0) continue
    if (begin.length < MOST && entity.name.toLowerCase().startsWith(words)) begin.push(entity)
    else if (hold.length < MOST) hold.push(entity)
  }
  return [...begin, ...hold].slice(0, MOST)
}

/** A fact is found by its own name and by the names of what is tied to it. */
const holderNames = (model: Model, entity: Entity): string[] => [
  entity.name.toLowerCase(),
  ...model.reaching(entity.id).flatMap(({ source }) => {
    const other = model.entities.get(source)
    return other && other.kind !== entity.kind ? [other.name.toLowerCase()] : []
  }),
]
