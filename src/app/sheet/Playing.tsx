import { useEffect, useMemo, useState } from 'react'
import type { Camera, Scene } from '../../core/scene'
import { play } from '../store/shown'
import { useParts } from '../store/state'

const STEP_MS = 900

/** What is marked at the moment that is shown: elements with a ring, lines drawn again and wider. */
export function PlayedMarks({ scene, camera }: { scene: Scene; camera: Camera }) {
  const { playing } = useParts('playing')
  const marked = useMemo(() => new Set(playing?.moments[playing.at]?.at ?? []), [playing])
  if (!playing) return null
  const lines = scene.links.filter(({ id }) => marked.has(id))
  return (
    <g transform={`translate(${camera.x} ${camera.y}) scale(${camera.k})`} data-testid="played">
      {lines.flatMap(({ id, marks }) =>
        marks.flatMap(({ tag, attrs }, index) =>
          tag === 'path' && attrs['fill'] === 'none'
            ? [
                <path
                  key={`${id} ${index}`}
                  data-played={id}
                  d={String(attrs['d'])}
                  fill="none"
                  stroke="var(--sheet-mark, #12565e)"
                  strokeWidth={4}
                  strokeOpacity={0.75}
                />,
              ]
            : [],
        ),
      )}
      {scene.items
        .filter(({ id, ground, facts }) => marked.has(id) && !ground && !lines.some((line) => line.id === facts[0]))
        .map(({ id, box }) => (
          <rect
            key={id}
            data-played={id}
            x={box.x - 5}
            y={box.y - 5}
            width={box.width + 10}
            height={box.height + 10}
            rx={6}
            fill="var(--sheet-mark, #12565e)"
            fillOpacity={0.14}
            stroke="var(--sheet-mark, #12565e)"
            strokeWidth={2.5}
          />
        ))}
    </g>
  )
}

/** Goes through the moments by itself, and by hand. */
export function PlayBar() {
  const { playing } = useParts('playing')
  const [running, setRunning] = useState(true)
  const last = (playing?.moments.length ?? 0) - 1
  const at = playing?.at ?? 0
  useEffect(() => {
    if (!playing || !running || at >= last) return
    const timer = setTimeout(() => play(playing.moments, at + 1), STEP_MS)
    return () => clearTimeout(timer)
  }, [playing, running, at, last])
  if (!playing) return null
  const go = (to: number) => {
    setRunning(false)
    play(playing.moments, Math.max(0, Math.min(last, to)))
  }
  const button = 'px-2.5 hover:bg-white/15 disabled:opacity-40'
  return (
    <div
      role="toolbar"
      aria-label="The way to the fault, moment by moment"
      className="absolute bottom-3 left-1/2 flex h-[28px] max-w-[90%] -translate-x-1/2 items-stretch divide-x divide-white/25 rounded-[3px] bg-[#1c2530] text-[12px] whitespace-nowrap text-white"
      onPointerDown={(event) => event.stopPropagation()}
    >
      <button type="button" className={button} disabled={at === 0} onClick={() => go(at - 1)}>
        Back
      </button>
      <button
        type="button"
        className={button}
        onClick={() => {
          if (at >= last) play(playing.moments, 0)
          setRunning(at >= last || !running)
        }}
      >
        {at >= last ? 'Again' : running ? 'Hold' : 'Run'}
      </button>
      <button type="button" className={button} disabled={at >= last} onClick={() => go(at + 1)}>
        On
      </button>
      <span role="status" className="min-w-0 truncate px-3 leading-[28px]" data-testid="moment">
        {playing.moments[at]?.words}
      </span>
      <button type="button" className={button} onClick={() => play(undefined)}>
        Stop
      </button>
    </div>
  )
}
