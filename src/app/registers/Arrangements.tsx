import { useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react'
import type { View } from '../../core/model'
import type { Gestures } from '../../core/notation'
import type { Arranged, Suiting } from '../../worker/contract'
import { arrangedAs, suitingOf } from '../store/asking'
import { tryPicture } from '../store/shown'
import { useParts } from '../store/state'
import { setPicture } from '../views'

/** So many are drawn at a time, so that the picture itself never waits long. */
const BATCH = 6
/** They are drawn anew when nobody has typed for so long. */
const PAUSE_MS = 220
/** What is passed over quickly is not shown on the sheet. */
const HOVER_MS = 90
/** From this on an arrangement is said to suit the lines. */
const SUITS = 0.75
const MOST_SUITED = 6

/** The lines of a view in every arrangement, drawn by the real pictures, those that suit them first. */
export function Arrangements({ view, pictures }: { view: View; pictures: readonly Gestures[] }) {
  const { model, day, trying } = useParts('model', 'day', 'trying')
  const [suiting, setSuiting] = useState<readonly Suiting[]>([])
  const [drawn, setDrawn] = useState<ReadonlyMap<string, Arranged>>(new Map())
  const [search, setSearch] = useState('')
  const hovering = useRef<ReturnType<typeof setTimeout> | undefined>(undefined)
  const list = useRef<HTMLDivElement>(null)
  const { id, look } = view

  useEffect(() => {
    let current = true
    const begin = setTimeout(
      () => {
        void (async () => {
          const ranked = await suitingOf(id)
          if (!current) return
          setSuiting(ranked)
          for (let at = 0; at < ranked.length && current; at += BATCH) {
            const wanted = ranked.slice(at, at + BATCH).map(({ picture }) => picture)
            const some = await arrangedAs(id, wanted)
            if (current) setDrawn((before) => new Map([...before, ...some.map((one) => [one.picture, one] as const)]))
          }
        })()
      },
      drawn.size === 0 ? 0 : PAUSE_MS,
    )
    return () => {
      current = false
      clearTimeout(begin)
    }
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what is drawn already says only how soon it is drawn again
  }, [id, model, day, look])
  useEffect(
    () => () => {
      clearTimeout(hovering.current)
      tryPicture(undefined)
    },
    [],
  )

  const known = useMemo(() => new Map(pictures.map((picture) => [picture.id, picture])), [pictures])
  const words = search.toLowerCase().split(/\s+/).filter(Boolean)
  const found = suiting.flatMap((one) => {
    const picture = known.get(one.picture)
    return picture && isFound(picture, words) ? [{ ...one, gestures: picture }] : []
  })
  const suited = words.length === 0 ? found.filter(({ score }) => score >= SUITS).slice(0, MOST_SUITED) : []
  const groups = [
    { title: 'Suits these lines', all: suited },
    { title: words.length === 0 ? 'Others' : 'Found', all: found.filter((one) => !suited.includes(one)) },
  ].filter(({ all }) => all.length > 0)

  const hover = (picture: string | undefined) => {
    clearTimeout(hovering.current)
    hovering.current = setTimeout(() => tryPicture(picture === view.picture ? undefined : picture), HOVER_MS)
  }
  const take = (picture: Gestures) => {
    clearTimeout(hovering.current)
    tryPicture(undefined)
    setPicture(view, picture)
  }
  const walk = (event: KeyboardEvent<HTMLDivElement>) => {
    const buttons = [...(list.current?.querySelectorAll<HTMLButtonElement>('button[data-arrangement]') ?? [])]
    const at = buttons.findIndex((button) => button === document.activeElement)
    const here = buttons[at]
    if (event.key === 'Escape') {
      hover(undefined)
      return
    }
    if (!here) return
    const beneath = (by: 1 | -1) => {
      const [x, y] = [here.offsetLeft, here.offsetTop]
      const rows = buttons.filter((button) => (button.offsetTop - y) * by > 4)
      const next = rows.sort(
        (a, b) =>
          Math.abs(a.offsetTop - y) - Math.abs(b.offsetTop - y) ||
          Math.abs(a.offsetLeft - x) - Math.abs(b.offsetLeft - x),
      )
      return next[0]
    }
    const next =
      event.key === 'ArrowRight'
        ? buttons[at + 1]
        : event.key === 'ArrowLeft'
          ? buttons[at - 1]
          : event.key === 'ArrowDown'
            ? beneath(1)
            : event.key === 'ArrowUp'
              ? beneath(-1)
              : undefined
    if (!next) return
    event.preventDefault()
    event.stopPropagation()
    next.focus()
  }
  const first = (groups[0]?.all ?? [])[0]?.picture
  const stop = found.some(({ picture }) => picture === (trying ?? view.picture)) ? (trying ?? view.picture) : first
  return (
    <section aria-label="Arrangements" className="flex min-w-0 flex-1 flex-col border-l border-hairline">
      <div className="flex h-[30px] shrink-0 items-center gap-3 px-3 text-[12px]">
        <span className="truncate text-quiet">The same lines as …</span>
        <span className="flex-1" />
        <input
          type="search"
          aria-label="Search arrangements"
          placeholder="cycle, compare, priority …"
          className="h-[22px] w-[170px] border-b border-hairline bg-transparent px-1 placeholder:text-quiet focus:border-primary"
          value={search}
          data-arrangement-search
          onChange={(event) => setSearch(event.target.value)}
          onKeyDown={(event) => {
            if (event.key !== 'Enter' && event.key !== 'ArrowDown') return
            event.preventDefault()
            list.current?.querySelector<HTMLButtonElement>('button[data-arrangement]')?.focus()
          }}
        />
      </div>
      <div ref={list} className="min-h-0 flex-1 overflow-y-auto px-3 pb-3" onKeyDown={walk}>
        {groups.length === 0 && words.length > 0 && (
          <p className="text-[12px] text-quiet">No arrangement is known by these words.</p>
        )}
        {groups.map(({ title, all }) => (
          <section key={title} aria-label={title}>
            <h2 className="caps mb-1 mt-1">{title}</h2>
            <ul className="grid grid-cols-[repeat(auto-fill,minmax(134px,1fr))] gap-x-3 gap-y-2">
              {all.map(({ picture, why, gestures }) => (
                <li key={picture}>
                  <button
                    type="button"
                    data-arrangement={picture}
                    aria-pressed={picture === view.picture}
                    tabIndex={picture === stop ? 0 : -1}
                    className="group block w-full text-left"
                    onPointerEnter={() => hover(picture)}
                    onPointerLeave={() => hover(undefined)}
                    onFocus={(event) => event.currentTarget.matches(':focus-visible') && hover(picture)}
                    onBlur={() => hover(undefined)}
                    onClick={() => take(gestures)}
                  >
                    <span
                      aria-hidden
                      className="sheet relative block h-[78px] overflow-hidden rounded-[3px] border border-hairline group-hover:border-primary group-focus-visible:border-primary group-aria-pressed:border-primary group-aria-pressed:outline group-aria-pressed:outline-1 group-aria-pressed:outline-primary"
                    >
                      <Drawn {...drawn.get(picture)} />
                    </span>
                    <span className="mt-0.5 block truncate text-[12px] font-semibold group-hover:underline">
                      {gestures.title}
                    </span>
                    <span className="block text-[11px] leading-[14px] text-quiet">{gestures.good}</span>
                    <span className="block text-[11px] leading-[14px] text-primary">{why}</span>
                  </button>
                </li>
              ))}
            </ul>
          </section>
        ))}
      </div>
    </section>
  )
}

function Drawn({ svg, failure }: Partial<Arranged>) {
  if (failure !== undefined)
    return <span className="block p-2 text-[11px] text-quiet">It cannot be drawn: {failure}.</span>
  // Made by our own serialiser, which escapes all that facts say.
  return svg === undefined ? null : (
    <span className="absolute inset-1 block [&>svg]:h-full [&>svg]:w-full" dangerouslySetInnerHTML={{ __html: svg }} />
  )
}

/** Whether each word begins one of those of an arrangement. */
function isFound({ title, good, arranges }: Gestures, words: readonly string[]): boolean {
  const own = `${title} ${good} ${arranges?.family ?? ''} ${arranges?.words ?? ''}`
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
  return words.every((word) => own.some((one) => one.startsWith(word)))
}
