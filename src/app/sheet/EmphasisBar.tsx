import { useEffect } from 'react'
import type { Theme } from '../../core/scene'
import { colourOf } from '../../core/scene'
import { EMPHASIS_KEYS, emphasise } from '../emphasis'
import { useParts, useWorkspace } from '../store/state'

/** How what is selected is to stand out: one key each, for the view or everywhere. */
export function EmphasisBar({ theme }: { theme: Theme }) {
  const { emphasising, selection } = useParts('emphasising', 'selection')
  const isShown = emphasising !== undefined && selection.length > 0
  useEffect(() => {
    // What was pressed to get here is away: keys go to the sheet again.
    if (isShown) document.querySelector<HTMLElement>('[data-testid=sheet]')?.focus({ preventScroll: true })
  }, [isShown])
  if (!emphasising || !isShown) return null
  return (
    <div
      role="toolbar"
      aria-label="Emphasis of what is selected"
      className="absolute bottom-3 left-1/2 z-10 flex h-[28px] -translate-x-1/2 items-stretch divide-x divide-white/20 rounded-[3px] bg-[#1c2530] text-[12px] whitespace-nowrap text-white"
      onPointerDown={(event) => event.stopPropagation()}
      // A press leaves the keys with the sheet.
      onMouseDown={(event) => event.preventDefault()}
    >
      {[...EMPHASIS_KEYS].map(([key, word]) => {
        const category = /^category (\d)$/.exec(word)?.[1]
        return (
          <button
            key={key}
            type="button"
            className="flex items-center gap-1.5 px-2 hover:bg-white/15"
            title={`${word.charAt(0).toUpperCase()}${word.slice(1)} (${key})`}
            aria-label={word}
            onClick={() => emphasise(word, emphasising)}
          >
            {category === undefined ? (
              <span
                className={
                  word === 'crossed out'
                    ? 'line-through'
                    : word === 'strong'
                      ? 'font-bold'
                      : word === 'quiet'
                        ? 'text-white/65'
                        : ''
                }
              >
                {word.charAt(0).toUpperCase() + word.slice(1)}
              </span>
            ) : (
              <span
                aria-hidden
                className="h-[14px] w-[14px] rounded-[2px] border-2"
                style={{
                  borderColor: colourOf(theme, `edge-${Number(category)}`),
                  background: colourOf(theme, `fill-${Number(category)}`),
                }}
              />
            )}
            <span className="text-white/65">{key}</span>
          </button>
        )
      })}
      <button
        type="button"
        className="px-2 hover:bg-white/15"
        title="For this view or everywhere (w)"
        onClick={() => useWorkspace.setState({ emphasising: emphasising === 'view' ? 'everywhere' : 'view' })}
      >
        {emphasising === 'view' ? 'in this view' : 'everywhere'} <span className="ml-0.5 text-white/65">w</span>
      </button>
    </div>
  )
}
