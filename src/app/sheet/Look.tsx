import * as Popover from '@radix-ui/react-popover'
import type { View } from '../../core/model'
import type { Gestures } from '../../core/notation'
import { themeOf, themes } from '../../core/scene'
import { setOption, setTheme } from '../views'

type Option = Gestures['options'][number]

/** How a picture is looked at: its options and the theme, on a leaf under a word. */
export function Look({ view, picture, className }: { view: View; picture: Gestures; className: string }) {
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
          className="z-50 w-[260px] rounded-[3px] border border-hairline bg-base-100 p-3 text-[13px]"
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
          <label className="mt-2 grid grid-cols-[96px_1fr] items-center border-t border-hairline pt-2">
            <span className="text-quiet">Theme</span>
            <select
              className="h-[24px] border-b border-hairline bg-base-100"
              value={themeOf(view.look['theme']).id}
              onChange={(event) => setTheme(view, event.target.value)}
            >
              {themes.map(({ id, title }) => (
                <option key={id} value={id}>
                  {title}
                </option>
              ))}
            </select>
          </label>
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
