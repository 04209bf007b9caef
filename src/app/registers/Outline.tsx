import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useMemo, useRef, useState, type ClipboardEvent, type KeyboardEvent } from 'react'
import type { Id } from '../../core/model'
import {
  isRefusal,
  tooLongLine,
  type Outcome,
  type Outline as OutlineContract,
  type OutlineLine,
  type Wish,
} from '../../core/notation'
import { make, wish } from '../store/changes'
import { select } from '../store/shown'
import { leaveForwards } from '../shell/focus'
import { pastedText } from '../pasted'
import { currentView, notify, useParts, useWorkspace } from '../store/state'
import { andNaming } from '../store/naming'
import { keepBlank, leaveBlank, leaveLine, noteBlank, noteNamed, settle, typeLine } from './typing'
import { keepUnread, useUnread } from './unread'

const ROW = 24
const INDENT = 20
/** Room for the number of a line, which other lines may name. */
const GUTTER = 36

/** Keys after which something else is done than typing into the line. */
const LEAVING = new Set(['Enter', 'Tab', 'Escape', 'ArrowUp', 'ArrowDown'])

/** A place in a line, or all of it. */
type Caret = number | 'all'

/**
 * The facts as an indented text, one line each. What is typed is on the sheet at once; Enter, Tab and Alt with the arrows
 * change the structure. While a line is typed into, its own text stays as typed.
 */
export function Outline({ outline }: { outline: OutlineContract }) {
  const { model, day, selection, turned } = useParts('model', 'day', 'selection', 'turned')
  const view = useWorkspace((state) => (state.viewId === undefined ? undefined : state.model.views.get(state.viewId)))
  const lines = useMemo(() => (view ? outline.lines(model, view, day) : []), [outline, model, view, day])
  const unread = useUnread((state) => state.lines)
  const [focus, setFocus] = useState<{ id: Id; text: string; caret?: number } | undefined>(undefined)
  const scroller = useRef<HTMLDivElement>(null)
  /** What could not be read has its reason beneath it. */
  const isUnread = (line: OutlineLine | undefined) => line !== undefined && unread.has(line.id)
  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: (index) => (isUnread(lines[index]) ? 2 * ROW : ROW),
    overscan: 12,
  })
  const tall = unread.size === 0 ? '' : lines.flatMap((line, index) => (isUnread(line) ? [index] : [])).join()
  useEffect(() => rows.measure(), [rows, tall])

  const selected = selection[0]
  const shown = useRef<Id | undefined>(undefined)
  useEffect(() => {
    if (selected === shown.current) return
    shown.current = selected
    const index = lines.findIndex(({ id }) => id === selected)
    if (index >= 0 && selected !== focus?.id) rows.scrollToIndex(index, { align: 'center' })
  }, [selected, lines, rows, focus])

  // What was taken back is no longer what stands in the line.
  const seen = useRef(turned)
  useEffect(() => {
    if (turned === seen.current) return
    seen.current = turned
    setFocus((now) => {
      const line = now && lines.find(({ id }) => id === now.id)
      return line ? { ...now, text: line.text } : now
    })
  }, [turned, lines])

  // The line that is to be typed into may not be on the page yet: it takes the focus as soon as it is.
  const wanted = useRef<{ id: Id; caret: Caret | undefined } | undefined>(undefined)
  /** The line that the one that is typed into has become. */
  const became = useRef<Id | undefined>(undefined)
  const goTo = (id: Id, caret?: Caret) => {
    wanted.current = { id, caret }
    const index = lines.findIndex((line) => line.id === id)
    if (index >= 0) rows.scrollToIndex(index, { align: 'auto' })
    const field = scroller.current?.querySelector<HTMLInputElement>(`input[data-line="${CSS.escape(id)}"]`)
    if (field) takeFocus(field)
  }
  const takeFocus = (field: HTMLInputElement) => {
    const caret = wanted.current?.caret
    wanted.current = undefined
    field.focus({ preventScroll: true })
    if (caret === 'all') field.select()
    else field.setSelectionRange(caret ?? field.value.length, caret ?? field.value.length)
  }

  const does = (edit: (asked: Wish) => Outcome, caret?: Caret): boolean => {
    const asked = wish()
    if (!asked) return false
    const outcome = edit(asked)
    if ('refused' in outcome) {
      notify(outcome.refused, 'refusal')
      return false
    }
    const done = make(outcome.change)
    if (done) noteNamed(outline, outcome)
    if (done && outcome.select !== undefined) {
      select([outcome.select], { reveal: true })
      goTo(outcome.select, caret)
    }
    return done
  }

  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>, { id }: OutlineLine, index: number) => {
    const field = event.currentTarget
    // Whatever is done next is done to what the line says.
    const isCommand = (event.ctrlKey || event.metaKey) && !event.altKey && event.key.length === 1
    const line = isCommand || LEAVING.has(event.key) ? (settle() ?? id) : id
    const stop = () => {
      event.preventDefault()
      event.stopPropagation()
    }
    const restructure = (edit: (asked: Wish) => Outcome) => {
      stop()
      const { selectionStart, selectionEnd, value } = field
      // What gives way to what is typed does so on another level, too.
      const isAll = value !== '' && selectionStart === 0 && selectionEnd === value.length
      if (does(edit)) goTo(line, isAll ? 'all' : (selectionStart ?? undefined))
    }
    const neighbour = (by: -1 | 1) => {
      const next = lines[index + by]
      if (!next) return
      stop()
      select([next.id], { reveal: true })
      goTo(next.id, Math.min(field.selectionStart ?? 0, next.text.length))
    }
    if (event.key === 'Enter' && !event.nativeEvent.isComposing) {
      stop()
      keepBlank()
      // What a new line says by itself gives way to what is typed.
      does((asked) => {
        const outcome = outline.insert(asked, line, '')
        if (!isRefusal(outcome) && outcome.select !== undefined) noteBlank(outcome.select, outcome.change)
        return outcome
      }, 'all')
    } else if (event.key === 'Tab')
      restructure((asked) => (event.shiftKey ? outline.outdent(asked, line) : outline.indent(asked, line)))
    else if (event.altKey && event.key === 'ArrowUp') restructure((asked) => outline.move(asked, line, -1))
    else if (event.altKey && event.key === 'ArrowDown') restructure((asked) => outline.move(asked, line, 1))
    else if (event.key === 'ArrowUp') neighbour(-1)
    else if (event.key === 'ArrowDown') neighbour(1)
    else if ((event.key === 'Backspace' || event.key === 'Delete') && field.value === '') {
      stop()
      const next = lines[index - 1] ?? lines[index + 1]
      const removed = does((asked) => outline.remove(asked, line))
      if (removed && next) {
        select([next.id])
        goTo(next.id)
      }
    } else if (event.key === 'Escape') {
      stop()
      leaveBlank(outline, line)
      if (scroller.current) leaveForwards(scroller.current)
    }
  }

  const onPaste = (event: ClipboardEvent<HTMLInputElement>, line: OutlineLine) => {
    const text = pastedText(event.clipboardData)
    if (!/[\r\n]/.test(text.trim())) return
    event.preventDefault()
    const after = settle() ?? line.id
    keepBlank()
    does((asked) => andNaming(outline.paste(asked, after, text)))
  }

  if (lines.length === 0) return <EmptyOutline outline={outline} does={does} />
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-auto" data-testid="outline">
      <div className="relative" style={{ height: rows.getTotalSize() + 8 }}>
        {rows.getVirtualItems().map(({ index, start, size }) => {
          const line = lines[index]
          if (!line) return null
          const isSelected = selection.includes(line.id)
          const kept = unread.get(line.id)
          const value = focus?.id === line.id ? focus.text : (kept?.text ?? line.text)
          return (
            <div
              key={line.id}
              className={`absolute inset-x-0 flex flex-col ${isSelected ? 'bg-wash' : ''}`}
              style={{ top: start + 4, height: size, paddingLeft: GUTTER + line.depth * INDENT }}
            >
              <span
                aria-hidden
                className="numeric absolute left-0 w-7 text-right text-[10px] leading-6 text-quiet select-none"
              >
                {index + 1}
              </span>
              {Array.from({ length: line.depth }, (_, level) => (
                <span
                  key={level}
                  aria-hidden
                  className="absolute top-0 h-full border-l border-hairline"
                  style={{ left: GUTTER + 4 + level * INDENT }}
                />
              ))}
              <input
                ref={(field) => {
                  if (field && wanted.current?.id === line.id) takeFocus(field)
                }}
                data-line={line.id}
                aria-label={`Line ${index + 1}, level ${line.depth + 1}`}
                className="numeric h-6 w-full shrink-0 bg-transparent px-2 text-[13px] outline-none focus-visible:shadow-[inset_2px_0_0_var(--color-primary)]"
                value={value}
                placeholder={outline.hint}
                spellCheck={false}
                onFocus={() => {
                  // What has become another line while it was typed stays as it was typed.
                  if (became.current !== line.id) setFocus({ id: line.id, text: kept?.text ?? line.text })
                  became.current = undefined
                  select([line.id], { reveal: true })
                }}
                onBlur={({ relatedTarget }) => {
                  setFocus((now) => (now?.id === line.id ? undefined : now))
                  leaveLine()
                  // Whoever goes on to the picture or to the margin may want to say there what it is.
                  if (
                    relatedTarget instanceof HTMLElement &&
                    relatedTarget.dataset['line'] &&
                    leaveBlank(outline, line.id)
                  )
                    return
                  const alone = lines[index + 1]?.depth === undefined || (lines[index + 1]?.depth ?? 0) <= line.depth
                  if (
                    value.trim() === '' &&
                    line.text === '' &&
                    alone &&
                    wanted.current === undefined &&
                    lines.length > 1
                  )
                    does((asked) => outline.remove(asked, line.id))
                }}
                onChange={(event) => {
                  const text = event.target.value
                  const tooLong = tooLongLine(text)
                  if (tooLong) return notify(tooLong.refused, 'refusal')
                  const field = event.target
                  // Said otherwise it may be another line, and is typed on all the same.
                  const follow = (now: Id) => {
                    setFocus({ id: now, text })
                    if (now === line.id) return
                    became.current = now
                    goTo(now, field.selectionStart ?? undefined)
                  }
                  follow(typeLine(outline, line.id, text, follow))
                }}
                aria-invalid={kept !== undefined}
                aria-describedby={kept ? `why ${line.id}` : undefined}
                onKeyDown={(event) => onKeyDown(event, line, index)}
                onPaste={(event) => onPaste(event, line)}
              />
              {kept && (
                <span className="flex h-6 items-baseline gap-3 px-2 text-[12px] whitespace-nowrap">
                  <span
                    id={`why ${line.id}`}
                    role="status"
                    className="truncate text-error"
                    title={`${kept.why} The fact is still: ${line.text}`}
                  >
                    ■ {kept.why}
                  </span>
                  <button
                    type="button"
                    className="verb"
                    title={`As it was: ${line.text}`}
                    onClick={() => {
                      keepUnread(line.id, undefined)
                      setFocus(undefined)
                    }}
                  >
                    As it was
                  </button>
                </span>
              )}
            </div>
          )
        })}
      </div>
    </div>
  )
}

function EmptyOutline({
  outline,
  does,
}: {
  outline: OutlineContract
  does: (edit: (asked: Wish) => Outcome) => boolean
}) {
  const view = currentView()
  const hint = (view && outline.hintFor?.(view)) ?? outline.hint
  return (
    <textarea
      aria-label="First lines"
      data-testid="outline-empty"
      className="numeric min-h-0 flex-1 resize-none bg-transparent p-4 text-[13px] outline-none"
      placeholder={`${hint}\nType the first line and press Enter, or paste an indented list.`}
      onKeyDown={(event) => {
        const text = event.currentTarget.value
        if (event.key !== 'Enter' || text.trim() === '') return
        event.preventDefault()
        does((asked) => tooLongLine(text) ?? andNaming(outline.insert(asked, undefined, text)))
      }}
      onPaste={(event) => {
        const text = pastedText(event.clipboardData)
        if (!/[\r\n]/.test(text.trim())) return
        event.preventDefault()
        does((asked) => andNaming(outline.paste(asked, undefined, text)))
      }}
    />
  )
}
