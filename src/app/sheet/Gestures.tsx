import type { Item } from '../../core/scene'
import type { Pulling } from './pull'

/** What a gesture that is under way would come to, in the scene: where what is pulled would lie, and what is dropped on. */
export function Gestures({
  pulling,
  target,
  isRefused,
}: {
  pulling: Pulling | undefined
  target: Item | undefined
  isRefused: boolean
}) {
  return (
    <>
      {pulling?.ghosts.map((box) => (
        <rect
          key={`${box.x} ${box.y}`}
          {...box}
          rx={3}
          fill="var(--sheet-mark, #12565e)"
          fillOpacity={0.14}
          stroke="var(--sheet-mark, #12565e)"
          strokeDasharray="4 3"
          vectorEffect="non-scaling-stroke"
        />
      ))}
      {pulling?.handle.pulls === 'line' && (
        <line
          x1={pulling.from.x}
          y1={pulling.from.y}
          x2={pulling.at.x}
          y2={pulling.at.y}
          stroke="var(--sheet-mark, #12565e)"
          strokeWidth={2}
          vectorEffect="non-scaling-stroke"
        />
      )}
      {target && (
        <rect
          x={target.box.x - 4}
          y={target.box.y - 4}
          width={target.box.width + 8}
          height={target.box.height + 8}
          rx={5}
          fill="none"
          stroke={isRefused ? '#a8322a' : 'var(--sheet-mark, #12565e)'}
          strokeWidth={3}
          strokeDasharray={isRefused ? '5 4' : undefined}
          vectorEffect="non-scaling-stroke"
        />
      )}
    </>
  )
}
