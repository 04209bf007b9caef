import * as Popover from '@radix-ui/react-popover'
import type { View } from '../../core/model'
import type { Gestures } from '../../core/notation'
import { useState } from 'react'
import { freeSize, PAPERS } from '../../core/scene'
import { useWorkspace } from '../store/state'
import { TONE_WORDS } from '../themes'
import { setAcross, setOption, setPaper } from '../views'
import { AroundFields } from './AroundFields'
import { EmphasisFields } from './EmphasisFields'
import { useTheme } from './ground'

type Option = Gestures['options'][number]

/** Once the leaf is away: what a dialog gives the focus back to is on the page then. */
const toThemes = () => setTimeout(() => useWorkspace.setState({ dialog: 'themes' }))

/** How a picture is looked at: its options and the theme, on a leaf under a word. */
export function Look({ view, picture, className }: { view: View; picture: Gestures; className: string }) {
  const theme = useTheme(view)
  const groups = new Map<string | undefined, Option[]>()
  for (const option of picture.options)
    if (!option.hidden) groups.set(option.group, [...(groups.get(option.group) ?? []), option])
  return (
    <Popover.Root>
      <Popover.Trigger className={className} aria-label="Look of the picture">
        Look ▾
      </Popover.Trigger>
      <Popover.Portal container={document.querySelector('main')}>
        <Popover.Content
          align="end"
          sideOffset={6}
          aria-label="Look of the picture"
          className="z-50 max-h-[calc(100vh-140px)] w-[280px] overflow-y-auto rounded-[3px] border border-hairline bg-base-100 p-3 text-[13px]"
        >
          {[...groups].map(([group, options]) => (
            <fieldset key={group ?? ''} className={group ? 'mt-2 border-t border-hairline pt-2' : ''}>
              {group && <legend className="caps float-left mb-1 w-full">{group}</legend>}
              <div className={group ? 'clear-both grid grid-cols-2 gap-x-2' : 'space-y-1'}>
                {options.map((option) => (
                  <OptionField key={option.id} view={view} option={option} />
                ))}
              </div>
            </fieldset>
          ))}
          <EmphasisFields view={view} />
          <AroundFields view={view} />
          <PaperField view={view} />
          <div className="mt-2 grid grid-cols-[96px_1fr] items-center border-t border-hairline pt-2">
            <span className="text-quiet">Theme</span>
            <Popover.Close className="verb truncate text-left" aria-label="Theme" onClick={toThemes}>
              {theme.title}, {TONE_WORDS[theme.tone].toLowerCase()} …
            </Popover.Close>
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

function OptionField({ view, option }: { view: View; option: Option }) {
  const value = view.options[option.id] ?? option.initial
  if (option.type === 'flag')
    return (
      <label className="flex h-[22px] items-center gap-1.5">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={value === true}
          onChange={(event) => setOption(view, option.id, option.label, event.target.checked)}
        />
        {option.label}
      </label>
    )
  return (
    <label className="grid grid-cols-[96px_1fr] items-center">
      <span className="text-quiet">{option.label}</span>
      <select
        className="h-[24px] border-b border-hairline bg-base-100"
        value={String(value ?? '')}
        onChange={(event) => setOption(view, option.id, option.label, event.target.value)}
      >
        {(option.choices ?? []).map((choice) => (
          <option key={choice}>{choice}</option>
        ))}
      </select>
    </label>
  )
}

const NONE = 'none'
const FREE = 'a size of its own'

/** The paper that a view is on: one of those there are, a size that is typed, or none. */
function PaperField({ view }: { view: View }) {
  const named = typeof view.look['paper'] === 'string' ? view.look['paper'] : undefined
  const [isFree, setFree] = useState(named !== undefined && !PAPERS.includes(named))
  const [typed, setTyped] = useState(named ?? '')
  const isRead = typed === '' || freeSize(typed) !== undefined
  return (
    <fieldset className="mt-2 border-t border-hairline pt-2">
      <label className="grid grid-cols-[96px_1fr] items-center">
        <span className="text-quiet">Paper</span>
        <select
          className="h-[24px] border-b border-hairline bg-base-100"
          value={isFree ? FREE : (named ?? NONE)}
          onChange={({ target: { value } }) => {
            setFree(value === FREE)
            if (value !== FREE) setPaper(view, value === NONE ? null : value)
            else setTyped('')
          }}
        >
          {[NONE, ...PAPERS, FREE].map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
      </label>
      {isFree && (
        <label className="grid grid-cols-[96px_1fr] items-center">
          <span className="text-quiet">Size</span>
          <span>
            <input
              className="numeric h-[24px] w-full border-b border-hairline bg-base-100"
              placeholder="210 × 99 mm, 1200 × 630 px"
              value={typed}
              aria-invalid={!isRead}
              onChange={({ target: { value } }) => {
                setTyped(value)
                if (freeSize(value)) setPaper(view, value.trim())
              }}
            />
            {!isRead && <span className="text-[11px] text-error">Two sides in mm or px, as 210 × 99 mm.</span>}
          </span>
        </label>
      )}
      {named !== undefined && !isFree && named !== 'Square' && (
        <label className="flex h-[22px] items-center gap-1.5">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={view.look['across'] === true}
            onChange={(event) => setAcross(view, event.target.checked)}
          />
          Across
        </label>
      )}
    </fieldset>
  )
}
