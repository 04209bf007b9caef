import { useLayoutEffect, useRef, useState, type KeyboardEvent } from 'react'
import type { Gestures } from '../../core/notation'
import { factOf, withSign, type Camera, type EditableText, type Item } from '../../core/scene'
import { carryOut, wish } from '../store/changes'
import { andNaming } from '../store/naming'
import { useWorkspace } from '../store/state'

/** Typing into a text of an item, where it stands. Enter keeps, Escape drops, Tab goes on to the next text. */
export function InPlace({
  item,
  part,
  ahead,
  picture,
  camera,
  onEnd,
}: {
  item: Item
  part: string
  ahead: string | undefined
  picture: Gestures
  camera: Camera
  onEnd: () => void
}) {
  const text = item.texts.find((one) => one.part === part)
  return text ? (
    <Editor
      key={`${item.id} ${part}`}
      item={item}
      text={text}
      ahead={ahead}
      picture={picture}
      camera={camera}
      onEnd={onEnd}
    />
  ) : null
}

const BREAK = ' \\ '

/** The sign of a key: strong, slanted, or a new line. */
function signOf({ key, ctrlKey, metaKey, shiftKey }: KeyboardEvent<HTMLInputElement>): string | undefined {
  if (key === 'Enter') return shiftKey ? BREAK : undefined
  if (!ctrlKey && !metaKey) return undefined
  return { b: '**', i: '*' }[key.toLowerCase()]
}

function Editor({
  item,
  text,
  ahead,
  picture,
  camera,
  onEnd,
}: {
  item: Item
  text: EditableText
  ahead: string | undefined
  picture: Gestures
  camera: Camera
  onEnd: () => void
}) {
  const [typed, setTyped] = useState(ahead ?? text.value)
  const field = useRef<HTMLInputElement>(null)
  const ended = useRef(false)
  useLayoutEffect(() => {
    if (ahead === undefined) field.current?.select()
    else field.current?.focus()
  }, [ahead])

  const placed = useRef<readonly [number, number]>(undefined)
  useLayoutEffect(() => {
    if (placed.current) field.current?.setSelectionRange(...placed.current)
    placed.current = undefined
  }, [typed])

  /** Whether it is taken, or there was nothing to take. */
  const keep = (): boolean => {
    const asked = wish({ selection: [factOf(item)] })
    if (typed.trim() === text.value || !asked || !picture.write) return true
    const outcome = picture.write(asked, text.part, typed)
    carryOut(andNaming(outcome))
    return !('refused' in outcome)
  }
  const end = (next: string | undefined, kept: boolean, stays = false) => {
    if (ended.current) return
    ended.current = true
    if (kept && !keep() && stays) {
      // What is refused stands there to be mended.
      ended.current = false
      return
    }
    useWorkspace.setState({ editing: next === undefined ? undefined : { item: item.id, part: next } })
    if (next === undefined) onEnd()
  }
  const at = item.texts.indexOf(text)
  const next = item.texts[at + 1]?.part
  const before = item.texts[at - 1]?.part
  const { x, y, width, height } = text.box
  const k = Math.max(camera.k, 0.92)
  const left = (item.box.x + x) * camera.k + camera.x - 1
  const top = (item.box.y + y) * camera.k + camera.y - 1
  const tall = Math.max(20, Math.min(height, 22) * k)
  return (
    <>
      <input
        ref={field}
        aria-label={`${text.label} of ${item.label}`}
        data-in-place={text.part}
        className="absolute rounded-[2px] border border-[#12565e] bg-white px-1 text-[#1c2530] outline-none"
        style={{
          left,
          top,
          width: Math.max(110, width * camera.k + 2),
          height: tall,
          fontSize: 12 * k,
        }}
        value={typed}
        placeholder={text.label}
        maxLength={2000}
        onChange={(event) => setTyped(event.target.value)}
        onPointerDown={(event) => event.stopPropagation()}
        onBlur={() => end(undefined, true)}
        onKeyDown={(event) => {
          event.stopPropagation()
          const sign = text.isStyled ? signOf(event) : undefined
          if (sign !== undefined) {
            event.preventDefault()
            const { selectionStart, selectionEnd } = event.currentTarget
            const styled = withSign(typed, selectionStart ?? typed.length, selectionEnd ?? typed.length, sign)
            placed.current = [styled.start, styled.end]
            setTyped(styled.text)
          } else if (event.key === 'Escape') end(undefined, false)
          else if (event.key === 'Enter')
            end(item.texts.slice(at + 1).find(({ value }) => value === '')?.part, true, true)
          else if (event.key === 'Tab') {
            event.preventDefault()
            end(event.shiftKey ? before : next, true, true)
          }
        }}
      />
      {text.isStyled && (
        <span
          className="pointer-events-none absolute whitespace-nowrap rounded-[2px] border border-hairline bg-base-200 px-1.5 py-0.5 text-[11px] text-quiet"
          style={{ left, top: top + tall + 3 }}
        >
          <kbd>Ctrl B</kbd> strong, <kbd>Ctrl I</kbd> slanted, <kbd>Shift Enter</kbd> new line
        </span>
      )}
    </>
  )
}
