import { useMemo } from 'react'
import { overlaps, type Camera, type Scene, type Size } from '../../core/scene'
import { seenThrough, sizeOfSigns } from '../sheet/signing'
import { fold } from '../store/folds'
import { select } from '../store/shown'
import { useParts } from '../store/state'
import { useTalk, useThreads, type Thread } from './comments'

/** More of them in view than this cannot be told apart. */
const MOST = 150

const BESIDE = 'translate(-10 -1)'

interface Marked {
  readonly key: string
  /** In px of the scene. */
  readonly x: number
  readonly y: number
  readonly threads: readonly Thread[]
  /** Beside a corner, so that it covers nothing of what it marks. */
  readonly isBeside: boolean
}

/** What is spoken about has a small sign at its upper left corner, and so has a place: how many threads are open there. */
export function Signs({ scene, camera, size }: { scene: Scene; camera: Camera; size: Size }) {
  const { viewId, pointed } = useParts('viewId', 'pointed')
  const threads = useThreads()
  const marked = useMemo(() => marksOf(scene, threads, viewId), [scene, threads, viewId])
  const seen = seenThrough(camera, size)
  const scale = sizeOfSigns(camera)
  const at = ({ x, y }: { x: number; y: number }) =>
    `translate(${x * camera.k + camera.x} ${y * camera.k + camera.y}) scale(${scale})`
  const { bounds, picture = bounds } = scene
  return (
    <g>
      {marked
        .filter(({ x, y }) => overlaps({ x, y, width: 1, height: 1 }, seen))
        .slice(0, MOST)
        .map((one) => (
          <g
            key={one.key}
            data-comment={one.threads[0]?.id}
            className="cursor-pointer"
            transform={at(one)}
            onPointerDown={(event) => event.stopPropagation()}
            onClick={() => show(one.threads)}
          >
            <title>{one.threads.map(({ comments }) => comments[0]?.words ?? '').join('\n')}</title>
            <g transform={one.isBeside ? BESIDE : undefined}>
              <Sign threads={one.threads} />
            </g>
          </g>
        ))}
      {pointed && (
        <circle
          transform={at({ x: pointed.x + picture.x, y: pointed.y + picture.y })}
          r={6}
          fill="none"
          stroke="var(--sheet-mark, #12565e)"
          strokeWidth={2}
        />
      )}
    </g>
  )
}

/** A slip with a corner turned down: what is said is written on it. */
function Sign({ threads }: { threads: readonly Thread[] }) {
  const count = threads.length
  const proposes = threads.some(({ proposal }) => proposal !== undefined)
  return (
    <>
      <path d="M-9 -8H5L9 -4V8H-9Z" fill="var(--sheet-mark, #12565e)" stroke="#fff" strokeLinejoin="round" />
      <path d="M5 -8V-4H9" fill="none" stroke="#fff" />
      <text
        y={count > 1 ? 4 : proposes ? 4 : 8}
        x={-0.5}
        textAnchor="middle"
        fill="#fff"
        fontSize={count > 1 ? 10 : 16}
        fontWeight={700}
      >
        {count > 1 ? Math.min(count, 99) : proposes ? '±' : '”'}
      </text>
    </>
  )
}

function show(threads: readonly Thread[]): void {
  const [first] = threads
  if (!first) return
  fold('margin', false)
  select(first.fact === undefined ? [] : [first.fact])
  useTalk.setState({ shown: { thread: first.id } })
}

function marksOf(
  { items, bounds, picture = bounds }: Scene,
  threads: readonly Thread[],
  view: string | undefined,
): readonly Marked[] {
  const open = threads.filter(({ resolved }) => !resolved)
  const of = new Map<string, Thread[]>()
  for (const thread of open)
    if (thread.fact !== undefined) of.set(thread.fact, [...(of.get(thread.fact) ?? []), thread])
  const facts = items.flatMap((item): Marked[] => {
    if (of.size === 0 || item.stays) return []
    const own = item.facts.flatMap((fact) => of.get(fact) ?? [])
    return own.length > 0 ? [{ key: item.id, x: item.box.x, y: item.box.y, threads: own, isBeside: true }] : []
  })
  const places = open.flatMap((thread): Marked[] =>
    thread.view === view && thread.place
      ? [
          {
            key: thread.id,
            x: thread.place.x + picture.x,
            y: thread.place.y + picture.y,
            threads: [thread],
            isBeside: false,
          },
        ]
      : [],
  )
  return [...facts, ...places]
}
