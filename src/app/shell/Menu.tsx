import * as Dropdown from '@radix-ui/react-dropdown-menu'
import type { ReactNode } from 'react'

interface MenuEntry {
  readonly label: string
  readonly run: () => void
  readonly chosen?: boolean
  readonly note?: string
}

/** A short list of choices under a word. A rule is drawn where the list holds null. */
export function Menu({
  trigger,
  label,
  entries,
  className = '',
}: {
  trigger: ReactNode
  label: string
  entries: readonly (MenuEntry | null)[]
  className?: string
}) {
  return (
    <Dropdown.Root modal={false}>
      <Dropdown.Trigger aria-label={label} className={className}>
        {trigger}
      </Dropdown.Trigger>
      <Dropdown.Portal container={document.querySelector('main')}>
        <Dropdown.Content
          align="start"
          sideOffset={4}
          className="z-50 min-w-[150px] rounded-[3px] border border-hairline bg-base-100 py-1 text-[13px]"
        >
          {entries.map((entry, index) =>
            entry === null ? (
              <Dropdown.Separator key={`rule ${index}`} className="my-1 border-t border-hairline" />
            ) : (
              <Dropdown.Item
                key={entry.label}
                onSelect={entry.run}
                className="flex cursor-pointer items-baseline gap-2 px-3 py-[3px] outline-none data-[highlighted]:bg-wash"
              >
                <span aria-hidden className="w-2 text-primary">
                  {entry.chosen ? '•' : ''}
                </span>
                <span className={entry.chosen ? 'font-semibold' : ''}>{entry.label}</span>
                {entry.note && <span className="ml-auto pl-4 text-quiet">{entry.note}</span>}
              </Dropdown.Item>
            ),
          )}
        </Dropdown.Content>
      </Dropdown.Portal>
    </Dropdown.Root>
  )
}
