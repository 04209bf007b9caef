import { useLayoutEffect, useRef, useState } from 'react'
import type { Gestures } from '../../core/notation'
import { factOf, type Camera, type EditableText, type Item } from '../../core/scene'
import { carryOut, wish } from '../store/changes'
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

  /** Whether it is taken, or there was nothing to take. */
  const keep = (): boolean => {
    const asked = wish({ selection: [factOf(item)] })
    if (typed.trim() === text.value || !asked || !picture.write) return true
    const outcome = picture.write(asked, text.part, typed)
    carryOut(outcome)
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
  const k = Math.max(camera.k, 0.7)
  return (
    <input
      ref={field}
      aria-label={`${text.label} of ${item.label}`}
      data-in-place={text.part}
      className="absolute rounded-[2px] border border-[#12565e] bg-white px-1 text-[#1c2530] outline-none"
      style={{
        left: (item.box.x + x) * camera.k + camera.x - 1,
        top: (item.box.y + y) * camera.k + camera.y - 1,
        width: Math.max(110, width * camera.k + 2),
        height: Math.max(20, Math.min(height, 22) * k),
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
        if (event.key === 'Escape') end(undefined, false)
        else if (event.key === 'Enter')
          end(item.texts.slice(at + 1).find(({ value }) => value === '')?.part, true, true)
        else if (event.key === 'Tab') {
          event.preventDefault()
          end(event.shiftKey ? before : next, true, true)
        }
      }}
    />
  )
}
