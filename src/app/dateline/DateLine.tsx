import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import {
  addDays,
  addMonths,
  asDay,
  cut,
  dayOf,
  isDay,
  ordinal,
  weekdayInWords,
  type Day,
  type Model,
} from '../../core/model'
import { readDay } from '../../core/notation'
import { today } from '../clock'
import { compareWith, showDay } from '../store/shown'
import { fold, useFolds } from '../store/folds'
import { notify, useParts } from '../store/state'

const YEARS = 3
const HEIGHT = 40
const AXIS = 28

interface Tick {
  readonly day: Day
  readonly begins: boolean
}

/** The workspace’s time as a strip: a tick wherever something begins or ends, and a handle for the day shown. */
export function DateLine() {
  const { model, day, compared } = useParts('model', 'day', 'compared')
  const folded = useFolds((state) => state.folded.has('dateline'))
  const strip = useRef<HTMLDivElement>(null)
  const [width, setWidth] = useState(0)
  const ticks = useMemo(() => ticksOf(model), [model])
  useEffect(() => {
    const element = strip.current
    if (!element) return
    const observer = new ResizeObserver(() => setWidth(element.clientWidth))
    observer.observe(element)
    return () => observer.disconnect()
  }, [folded])

  const firstYear = windowStart(day)
  const start = ordinal(newYear(firstYear))
  const end = ordinal(newYear(firstYear + YEARS))
  const inner = Math.max(1, width - 32)
  const xOf = (at: Day) => 16 + ((ordinal(at) - start) / (end - start)) * inner
  const dayAt = (x: number) => dayOf(Math.round(start + ((x - 16) / inner) * (end - start)))
  const months = Array.from({ length: YEARS * 12 }, (_, index) => addMonths(newYear(firstYear), index))
  const seen = ticks.filter((tick) => ordinal(tick.day) >= start && ordinal(tick.day) <= end)

  // Of two handles the nearer one is moved.
  const moved = useRef<(day: Day) => void>(showDay)
  const pick = (event: PointerEvent) => {
    const corner = strip.current?.getBoundingClientRect()
    if (!corner || (event.type === 'pointermove' && event.buttons !== 1)) return
    const x = Math.min(Math.max(event.clientX - corner.left, 16), width - 16)
    if (event.type === 'pointerdown')
      moved.current =
        compared !== undefined && Math.abs(xOf(compared) - x) < Math.abs(xOf(day) - x) ? compareWith : showDay
    moved.current(dayAt(x))
  }
  const onKeyDown = (event: KeyboardEvent) => {
    const forward = event.key === 'ArrowRight'
    if (forward || event.key === 'ArrowLeft') {
      event.preventDefault()
      event.stopPropagation()
      // With Alt it is the second handle that moves.
      const [at, show] = event.altKey && compared !== undefined ? [compared, compareWith] : [day, showDay]
      if (event.shiftKey) return show(addDays(at, forward ? 1 : -1))
      const next = forward ? ticks.find((tick) => tick.day > at) : ticks.findLast((tick) => tick.day < at)
      if (next) show(next.day)
      else notify(forward ? 'Nothing begins or ends after this day.' : 'Nothing begins or ends before this day.')
    } else if (event.key === 'Home' || event.key === 'End') {
      const tick = event.key === 'Home' ? ticks[0] : ticks.at(-1)
      if (tick) showDay(tick.day)
    }
  }
  if (folded) return <Rule day={day} />
  return (
    <section
      aria-label="Date line"
      className="relative flex h-[40px] shrink-0 items-center border-b border-hairline bg-base-100 max-sm:h-auto max-sm:min-h-[40px] max-sm:flex-wrap max-sm:py-1"
    >
      <div
        ref={strip}
        role="slider"
        tabIndex={0}
        data-dateline
        aria-label="Day shown. Left and right go to the day before or after on which something begins or ends; with Shift, by one day."
        aria-valuetext={weekdayInWords(day)}
        aria-valuenow={ordinal(day)}
        aria-valuemin={start}
        aria-valuemax={end}
        className="relative h-full min-w-0 flex-1 cursor-ew-resize touch-none max-sm:hidden"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId)
          pick(event)
        }}
        onPointerMove={pick}
        onKeyDown={onKeyDown}
      >
        {width > 0 && (
          <svg width={width} height={HEIGHT} className="absolute inset-0" aria-hidden>
            <g stroke="currentColor" className="text-base-content">
              <path d={`M16 ${AXIS}H${width - 16}`} />
              {months.map((month) => {
                const isYear = month.endsWith('-01-01')
                return (
                  <path key={month} d={`M${xOf(month)} ${AXIS}v${isYear ? -8 : -3}`} strokeOpacity={isYear ? 1 : 0.4} />
                )
              })}
              <path d={`M${width - 16} ${AXIS}v-8`} />
            </g>
            {Array.from({ length: YEARS }, (_, index) => (
              <text
                key={index}
                x={xOf(newYear(firstYear + index)) + 4}
                y={16}
                className="numeric fill-quiet"
                fontSize={12}
              >
                {firstYear + index}
              </text>
            ))}
            {seen.map((tick) => (
              <path
                key={`${tick.day} ${tick.begins}`}
                d={`M${xOf(tick.day)} ${AXIS + 1}v${tick.begins ? 8 : 5}`}
                strokeWidth={2}
                className={tick.begins ? 'stroke-primary' : 'stroke-warning'}
              />
            ))}
            {compared !== undefined && (
              <g transform={`translate(${xOf(compared)} 0)`} className="fill-base-100 stroke-primary" strokeWidth={1.5}>
                <path d="M-6 14h12v8l-6 5l-6 -5Z" />
                <path d={`M0 ${AXIS - 1}V${HEIGHT - 2}`} strokeWidth={2} />
              </g>
            )}
            <g transform={`translate(${xOf(day)} 0)`} className="fill-primary stroke-primary">
              <path d="M-6 14h12v8l-6 5l-6 -5Z" stroke="none" />
              <path d={`M0 ${AXIS - 4}V${HEIGHT - 2}`} strokeWidth={2} />
            </g>
          </svg>
        )}
      </div>
      <DayField label="Showing" day={day} onDay={showDay} />
      {compared !== undefined && <DayField label="compared with" day={compared} onDay={compareWith} />}
      <button type="button" className="verb ml-4" onClick={() => showDay(today())}>
        Today
      </button>
      <button
        type="button"
        className="verb mr-4 ml-4 whitespace-nowrap"
        onClick={() =>
          compareWith(
            compared === undefined ? ((ticks.findLast((tick) => tick.day < day) ?? ticks[0])?.day ?? day) : undefined,
          )
        }
      >
        {compared === undefined ? 'Compare…' : 'One day'}
      </button>
      <div
        aria-hidden
        className="absolute inset-x-0 -bottom-[3px] z-10 h-[6px] cursor-pointer hover:bg-quiet/40"
        title="Fold the date line (D)"
        onClick={() => fold('dateline', true)}
      />
      {compared !== undefined && (
        <p className="sr-only" aria-live="polite">
          Compared with {weekdayInWords(compared)}
        </p>
      )}
    </section>
  )
}

/** The date line folded to a rule. By keyboard it unfolds with its key. */
const Rule = ({ day }: { day: Day }) => (
  <section
    aria-label="Date line"
    className="group block h-[9px] w-full shrink-0 cursor-pointer border-b border-hairline bg-base-100 px-4 pt-1 hover:bg-base-200"
    title={`Showing ${weekdayInWords(day)}. Unfold the date line (D)`}
    onClick={() => fold('dateline', false)}
  >
    <span className="block h-px bg-base-content group-hover:bg-primary" />
    <span className="sr-only">Showing {weekdayInWords(day)}. The key D unfolds the date line.</span>
  </section>
)

/** The day in words; a click turns it into a field. */
function DayField({ label, day, onDay }: { label: string; day: Day; onDay: (day: Day) => void }) {
  const [typed, setTyped] = useState<string | undefined>(undefined)
  const keep = () => {
    if (typed === undefined) return
    const read = isDay(typed) ? typed : readDay(typed.trim())
    if (read) onDay(read)
    else notify(`“${cut(typed, 40)}” is not a day. Write it as 2026-11-24.`, 'refusal')
    setTyped(undefined)
  }
  return (
    <span className="flex items-center gap-2 whitespace-nowrap">
      <span className="ml-3 text-quiet">{label}</span>
      {typed === undefined ? (
        <button
          type="button"
          data-testid={label === 'Showing' ? 'day' : 'compared'}
          className="numeric border-b border-transparent font-semibold hover:border-hairline"
          onClick={() => setTyped(day)}
        >
          {weekdayInWords(day)}
        </button>
      ) : (
        <input
          autoFocus
          aria-label={`Day, ${label}`}
          className="numeric w-[110px] border-b border-primary bg-transparent outline-none"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onFocus={(event) => event.target.select()}
          onBlur={keep}
          onKeyDown={(event) => {
            event.stopPropagation()
            if (event.key === 'Enter') keep()
            if (event.key === 'Escape') setTyped(undefined)
          }}
        />
      )}
    </span>
  )
}

const newYear = (year: number): Day => asDay(`${String(year).padStart(4, '0')}-01-01`)

/** The year before the one shown, this one and the next; within what a calendar can name. */
const windowStart = (day: Day): number => Math.min(9996, Math.max(1, Number(day.slice(0, 4)) - 1))

function ticksOf(model: Model): Tick[] {
  const begins = new Set<Day>()
  const ends = new Set<Day>()
  for (const fact of [...model.entities.values(), ...model.relations.values()]) {
    if (fact.from) begins.add(fact.from)
    if (fact.to) ends.add(fact.to)
  }
  const all = [
    ...[...begins].map((at) => ({ day: at, begins: true })),
    ...[...ends].map((at) => ({ day: at, begins: false })),
  ]
  return all.sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : 0))
}
