import * as Popover from '@radix-ui/react-popover'
import { useEffect, useState } from 'react'
import type { Entity } from '../../core/model'
import { bestFirst } from '../../core/notation'
import { iconsThere, loadIcons, type Icons } from '../../core/scene'
import { make } from '../store/changes'

/** So many icons are shown of what fits what is looked for. */
const MOST = 42

/** The icon of a fact, looked for by a word and chosen by a look. */
export function IconField({ entity }: { entity: Entity }) {
  const { icon } = entity.fields
  const name = typeof icon === 'string' ? icon : undefined
  const icons = useIcons(name !== undefined)
  const [isOpen, setOpen] = useState(false)
  const choose = (next: string | null) => {
    setOpen(false)
    make({
      label: next === null ? `No icon on “${entity.name}”` : `Icon “${next}” on “${entity.name}”`,
      steps: [{ do: 'set-entity', id: entity.id, path: 'fields.icon', value: next }],
    })
  }
  return (
    <>
      <dt className="text-quiet">Icon</dt>
      <dd className="flex min-w-0 items-center gap-2">
        <Popover.Root open={isOpen} onOpenChange={setOpen}>
          <Popover.Trigger className="verb flex h-[24px] min-w-0 items-center gap-1.5" aria-label="Icon">
            {name !== undefined && icons && <Drawn data={icons.data(name)} />}
            <span className="truncate">{name === undefined ? 'Choose …' : name}</span>
          </Popover.Trigger>
          <Popover.Portal container={document.querySelector('main')}>
            <Popover.Content
              align="end"
              sideOffset={4}
              aria-label="Icons"
              className="z-50 w-[270px] rounded-[3px] border border-hairline bg-base-100 p-3 text-[13px]"
            >
              <Chooser onChoose={choose} />
            </Popover.Content>
          </Popover.Portal>
        </Popover.Root>
        {name !== undefined && (
          <button
            type="button"
            className="px-1 text-quiet hover:text-error"
            aria-label="No icon"
            onClick={() => choose(null)}
          >
            ×
          </button>
        )}
      </dd>
    </>
  )
}

function Chooser({ onChoose }: { onChoose: (name: string) => void }) {
  const icons = useIcons(true)
  const [query, setQuery] = useState('')
  const sought =
    icons?.list.map(({ name, words }) => ({ title: name.replaceAll('-', ' '), summary: '', words, name })) ?? []
  const found = bestFirst(sought, query).slice(0, MOST)
  return (
    <>
      <input
        autoFocus
        type="search"
        aria-label="Look for an icon"
        placeholder="ship, gate, money, warning …"
        className="mb-2 h-[26px] w-full border-b border-hairline bg-transparent outline-none focus:border-primary"
        value={query}
        onChange={({ target }) => setQuery(target.value)}
        onKeyDown={(event) => {
          const [first] = found
          if (event.key !== 'Enter' || !first || query.trim() === '') return
          event.preventDefault()
          onChoose(first.name)
        }}
      />
      {!icons && <p className="text-quiet">The icons are coming …</p>}
      {icons && found.length === 0 && <p className="text-quiet">No icon fits “{query.trim()}”.</p>}
      <div className="grid grid-cols-7 gap-1">
        {found.map(({ name, title }) => (
          <button
            key={name}
            type="button"
            title={title}
            aria-label={title}
            className="grid h-[31px] place-items-center rounded-[3px] hover:bg-base-200 focus-visible:bg-base-200"
            onClick={() => onChoose(name)}
          >
            <Drawn data={icons?.data(name)} />
          </button>
        ))}
      </div>
    </>
  )
}

function Drawn({ data }: { data: string | undefined }) {
  return (
    <svg aria-hidden width="18" height="18" viewBox="0 0 24 24" className="shrink-0">
      <path
        d={data ?? ''}
        fill="none"
        stroke="currentColor"
        strokeWidth="2"
        strokeLinecap="round"
        strokeLinejoin="round"
      />
    </svg>
  )
}

/** The icons, which come when they are first wanted. */
function useIcons(wanted: boolean): Icons | undefined {
  const [icons, setIcons] = useState(iconsThere)
  useEffect(() => {
    if (wanted && !icons) void loadIcons()?.then(setIcons)
  }, [wanted, icons])
  return icons
}
