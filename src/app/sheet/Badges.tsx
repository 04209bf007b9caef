import { useMemo } from 'react'
import { isOpen } from '../../core/findings/findings'
import type { Id } from '../../core/model'
import type { Finding, Severity } from '../../core/notation'
import { factOf, overlaps, type Camera, type Item, type Size } from '../../core/scene'
import { SIGNS } from '../signs'
import { seenThrough, sizeOfSigns } from './signing'

const MOST_PER_ITEM = 3
/** More marked items in view than this cannot be told apart: then only those with errors carry their signs, and no more than this. */
const MOST_MARKED = 150
const STEP = 18
const RAISED = 5
/** From three digits on a sign is so much larger. */
const WIDER = 1.3

/** Findings as a proof-reader writes them: a small numbered sign at the item's corner. The number is the one in the margin. */
export function Badges({
  items,
  findings,
  camera,
  size,
  onPick,
}: {
  items: readonly Item[]
  findings: readonly Finding[]
  camera: Camera
  size: Size
  onPick: (item: Id) => void
}) {
  const marked = useMemo(() => marksOf(items, findings), [items, findings])
  const seen = seenThrough(camera, size)
  const scale = sizeOfSigns(camera)
  return (
    <g>
      {legible(marked.filter(({ item }) => overlaps(item.box, seen))).map(({ item, marks }) =>
        marks.slice(0, MOST_PER_ITEM).map(({ number, finding }, index) => (
          <g
            key={`${item.id} ${number}`}
            data-finding={finding.rule}
            className="cursor-pointer"
            transform={placed(item, index, camera, scale)}
            onClick={() => onPick(factOf(item))}
          >
            <title>{finding.message}</title>
            <g {...(number > 99 ? { transform: `scale(${WIDER})` } : {})}>
              <Sign severity={finding.severity} number={number} />
            </g>
          </g>
        )),
      )}
    </g>
  )
}

function placed({ box, signs }: Item, index: number, camera: Camera, scale: number): string {
  const x = (box.x + (signs?.x ?? box.width)) * camera.k + camera.x - ((signs ? 0 : 8) + index * STEP) * scale
  // Raised above the corner, so that it covers no name beneath.
  const y = (box.y + (signs?.y ?? 0)) * camera.k + camera.y - (signs ? 0 : RAISED * scale)
  return `translate(${x} ${y}) scale(${scale})`
}

interface Marked {
  readonly item: Item
  readonly marks: readonly { readonly number: number; readonly finding: Finding }[]
}

const legible = (marked: readonly Marked[]): readonly Marked[] =>
  marked.length <= MOST_MARKED
    ? marked
    : marked
        .map(({ item, marks }) => ({ item, marks: marks.filter(({ finding }) => finding.severity === 'error') }))
        .filter(({ marks }) => marks.length > 0)
        .slice(0, MOST_MARKED)

function Sign({ severity, number }: { severity: Severity; number: number }) {
  const { fill } = SIGNS[severity]
  return (
    <>
      {severity === 'error' && <rect x={-8} y={-8} width={16} height={16} rx={2} fill={fill} stroke="#fff" />}
      {severity === 'warning' && <path d="M0 -11L11 8H-11Z" fill={fill} stroke="#fff" strokeLinejoin="round" />}
      {severity === 'note' && <circle r={8.5} fill={fill} stroke="#fff" />}
      <text
        y={severity === 'warning' ? 5 : 4}
        textAnchor="middle"
        fill="#fff"
        fontSize={number > 999 ? 6 : number > 99 ? 7.5 : 10}
        fontWeight={700}
      >
        {number}
      </text>
    </>
  )
}

function marksOf(items: readonly Item[], findings: readonly Finding[]): Marked[] {
  const bySubject = new Map<Id, { number: number; finding: Finding }[]>()
  findings.forEach((finding, index) => {
    const [first] = finding.subjects
    if (first === undefined || !isOpen(finding)) return
    const list = bySubject.get(first)
    if (list) list.push({ number: index + 1, finding })
    else bySubject.set(first, [{ number: index + 1, finding }])
  })
  if (bySubject.size === 0) return []
  return items.flatMap((item) => {
    if (item.ground || item.stays) return []
    const marks = item.facts.flatMap((fact) => bySubject.get(fact) ?? [])
    return marks.length > 0 ? [{ item, marks }] : []
  })
}
