import { chooseFacts } from '../portion'
import { Suspense, useEffect, useRef, useState, type CSSProperties, type RefObject } from 'react'
import { joinTwo, listText, pictureOf, type Offer, type Outline as OutlineContract } from '../../core/notation'
import { handlings } from '../../core/notations/handling'
import { counted, wordsOf, type View } from '../../core/model'
import { Menu } from '../shell/Menu'
import { act, currentNotation } from '../actions'
import { later } from '../later'
import { useOffer } from '../offers'
import { save, slug } from '../picture'
import { copyText } from '../clipboard'
import { carryOut, wish } from '../store/changes'
import { cellsOf, writtenAs } from '../store/asking'
import { fold } from '../store/folds'
import { readWholeFile } from '../store/readings'
import { notify, useParts, useWorkspace } from '../store/state'
import { become, becomings, chosenLines } from './becoming'
import { Outline } from './Outline'

const Numbers = later(() => import('./Numbers').then(({ Numbers }) => Numbers))

// The table's library is large: it comes when a table is first shown.
const Grid = later(() => import('./Grid').then(({ Grid }) => Grid))

const Arrangements = later(() => import('./Arrangements').then(({ Arrangements }) => Arrangements))

/** Opens a file of the chosen sort and shows what it would bring, before it is brought. */
function chooseFile({ id, title, extensions }: Offer['files'][number]): void {
  const input = document.createElement('input')
  input.type = 'file'
  input.accept = extensions.join(',')
  input.addEventListener('change', () => {
    const [file] = input.files ?? []
    if (!file) return
    const { result, stop } = readWholeFile(id, file)
    useWorkspace.setState({ reading: { name: file.name, stop } })
    void result.then((found) => {
      useWorkspace.setState({ reading: undefined })
      if ('refused' in found) return notify(`${title}: ${found.refused}`, 'refusal')
      const { change, view, facts } = found
      carryOut({ change, ...(view === undefined ? {} : { view }), spreads: facts })
    })
  })
  input.click()
}

/** Reads the lines of a view, or what stands under the one selected, as something else. */
function makeOfIt(outline: OutlineContract, view: View, as: string): void {
  const { model, day, selection } = useWorkspace.getState()
  const lines = outline.lines(model, view, day)
  if (lines.length === 0) return notify('There are no lines yet.', 'refusal')
  const chosen = chosenLines(lines, selection)
  const of = chosen === lines ? undefined : model.entities.get(selection[0] ?? view.id)?.name
  become(listText(chosen), as, of ?? view.title)
}

const NUMBERS = 'numbers'
const XLSX = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet'

/** The facts as text, as tables and as numbers, beneath the sheet. */
export function Registers() {
  const { panel, model, day, notes, selection } = useParts('panel', 'model', 'day', 'notes', 'selection')
  const view = useWorkspace((state) => (state.viewId === undefined ? undefined : state.model.views.get(state.viewId)))
  const [filter, setFilter] = useState('')
  const notation = currentNotation()
  const offer = useOffer()
  const { list, hides } = useHiding()
  if (!notation || !view) return <div className="h-full" />
  const beside = notation.registers.filter(({ pictures }) => !pictures || pictures.includes(view.picture))
  const register = beside.find(({ id }) => id === panel)
  const { outline } = notation
  const arranged = pictureOf(handlings, view)?.arranges !== undefined

  const add = () => {
    const asked = wish()
    if (asked && register) carryOut(register.add(asked))
  }
  const hand = (blob: Blob, id: string, extension: string) => {
    const name = `${slug(model.name)}-${id}-${day}${extension}`
    save(blob, name)
    notify(`${name} is saved.`)
  }
  const saveTable = async (extension: '.csv' | '.xlsx' | '.html' | '.md') => {
    if (!register) return
    try {
      const { registerCsv, registerHtml, registerMarkdown, writeXlsx } = await import('../../core/tabular')
      const cells = await cellsOf(register.id, view.id, day)
      // The mark at the front tells spreadsheets that the text is UTF-8.
      if (extension === '.csv')
        hand(new Blob(['\ufeff', registerCsv(cells)], { type: 'text/csv' }), register.id, extension)
      else if (extension === '.html')
        hand(new Blob([registerHtml(register.title, cells)], { type: 'text/html' }), register.id, extension)
      else if (extension === '.md')
        hand(new Blob([registerMarkdown(cells)], { type: 'text/markdown' }), register.id, extension)
      else hand(new Blob([await writeXlsx(register.title, cells)], { type: XLSX }), register.id, extension)
    } catch (error) {
      notify(`${register.title} could not be written: ${wordsOf(error)}.`, 'refusal')
    }
  }
  const saveFile = async ({ id, title, extension, mediaType }: Offer['exports'][number]) => {
    try {
      hand(new Blob([(await writtenAs(view.id, id, day)) ?? ''], { type: mediaType }), id, extension)
    } catch (error) {
      notify(`${title} could not be written: ${wordsOf(error)}.`, 'refusal')
    }
  }
  const saving = [
    ...(register
      ? [
          { label: 'CSV', note: register.title, run: () => void saveTable('.csv') },
          { label: 'XLSX', note: register.title, run: () => void saveTable('.xlsx') },
          { label: 'HTML', note: register.title, run: () => void saveTable('.html') },
          { label: 'Markdown', note: register.title, run: () => void saveTable('.md') },
          null,
        ]
      : []),
    ...offer.exports.map((one) => ({ label: one.title, note: 'everything', run: () => void saveFile(one) })),
  ]
  const copyOutline = () => {
    const text = outline?.text?.(model, view, day) ?? listText(outline?.lines(model, view, day) ?? [])
    void copyText(text, `${counted(text === '' ? 0 : text.split('\n').length, 'line')} copied.`)
  }
  const tabs: readonly { id: string; label: string; count?: number | string | undefined }[] = [
    ...(outline ? [{ id: 'outline', label: 'Outline' }] : []),
    ...beside.map((one) => ({
      id: one.id,
      label: one.title,
      count: one.count ? notes?.rows[one.id] : model.ofKind(one.kind).length,
    })),
    ...(offer.numbers.length > 0 ? [{ id: NUMBERS, label: 'Numbers' }] : []),
  ]
  const two = selection.length === 2 ? wish() : undefined
  const joins = two !== undefined && joinTwo.applies(two)
  const show = (id: string) => {
    fold('registers', false)
    useWorkspace.setState({ panel: id })
  }
  const isShown = (id: string) => panel === id || (id === 'outline' && !register && panel !== NUMBERS)
  const tab = ({ id, label, count }: (typeof tabs)[number]) => (
    <button
      key={id}
      type="button"
      role="tab"
      aria-selected={isShown(id)}
      className="order-1 h-[31px] shrink-0 aria-selected:order-[var(--shown)] whitespace-nowrap border-b-2 border-transparent text-quiet aria-selected:border-primary aria-selected:font-semibold aria-selected:text-base-content"
      onClick={() => show(id)}
    >
      {label}{' '}
      {count !== undefined && (
        <span className={`tabular-nums ${panel === id ? '' : 'sr-only'}`}>{count.toLocaleString('en')}</span>
      )}
    </button>
  )
  return (
    <section aria-label="Registers" className="flex h-full flex-col bg-base-100" data-registers>
      <div className="flex h-[32px] shrink-0 items-center gap-4 border-b border-hairline px-4 narrow:h-auto narrow:min-h-[32px] narrow:flex-wrap narrow:gap-y-0 narrow:px-3">
        <div
          role="tablist"
          aria-label="Registers"
          ref={list}
          // The one shown comes first where not all of them fit, so that it is never among those that are not seen.
          style={{ '--shown': hides ? 0 : 1 } as CSSProperties}
          className="flex h-[31px] min-w-0 flex-wrap gap-x-4 overflow-hidden narrow:w-[calc(100%-56px)]"
        >
          {tabs.map(tab)}
        </div>
        {hides && (
          <Menu
            label="All registers"
            className="verb whitespace-nowrap"
            trigger="All ▾"
            entries={tabs.map(({ id, label }) => ({ label, chosen: isShown(id), run: () => show(id) }))}
          />
        )}
        <span className="flex-1 narrow:hidden" />
        {register ? (
          <>
            <input
              type="search"
              aria-label={`Filter ${register.title}`}
              placeholder="Filter"
              className="h-[24px] w-[110px] min-w-[52px] shrink-[1000] border-b border-transparent bg-transparent px-1 text-[12px] placeholder:text-quiet hover:border-hairline focus:border-primary"
              value={filter}
              onChange={(event) => setFilter(event.target.value)}
            />
            {joins && (
              <button type="button" className="verb whitespace-nowrap" onClick={() => act(joinTwo)}>
                {joinTwo.label}
              </button>
            )}
            <button type="button" className="verb whitespace-nowrap" onClick={add}>
              Add a row
            </button>
          </>
        ) : panel !== NUMBERS ? (
          <>
            {outline && (
              <Menu
                label="Make something else of these lines"
                className="verb whitespace-nowrap"
                trigger="Make of it ▾"
                entries={becomings(notation).map(({ id, word }) => ({
                  label: word.charAt(0).toUpperCase() + word.slice(1),
                  run: () => makeOfIt(outline, view, id),
                }))}
              />
            )}
            <button type="button" className="verb whitespace-nowrap" onClick={copyOutline}>
              Copy as text
            </button>
          </>
        ) : null}
        {saving.length > 0 && (
          <Menu label="Save as a file" className="verb whitespace-nowrap" trigger="Save as ▾" entries={saving} />
        )}
        {offer.imports.length + offer.files.length > 0 && (
          <Menu
            label="Bring in"
            className="verb whitespace-nowrap"
            trigger="Bring in ▾"
            entries={[
              ...(offer.imports.length > 0
                ? [{ label: 'A table or file', run: () => useWorkspace.setState({ dialog: 'bring-in' }) }]
                : []),
              ...offer.files.map((file) =>
                file.asked
                  ? { label: `From a ${file.asked}`, run: () => useWorkspace.setState({ dialog: file.asked }) }
                  : {
                      label: `${/^(?:[aeiou]|SQL|XMI)/i.test(file.title) ? 'An' : 'A'} ${file.title} file`,
                      run: () => chooseFile(file),
                    },
              ),
              ...offer.imports
                .flatMap(({ readers }) => readers.flatMap(({ asked }) => asked ?? []))
                .map((asked) => ({
                  label: `From the ${asked}`,
                  run: () => useWorkspace.setState({ dialog: 'directory' }),
                })),
              null,
              { label: 'Facts of another workspace', run: chooseFacts },
            ]}
          />
        )}
      </div>
      {panel === NUMBERS ? (
        <Suspense fallback={<p className="p-4 text-quiet">Counting …</p>}>
          <Numbers key={notation.id} notation={notation.id} sheets={offer.numbers} />
        </Suspense>
      ) : register ? (
        <Suspense fallback={<p className="p-4 text-quiet">The table is coming …</p>}>
          <Grid key={register.id} register={register} filter={filter} />
        </Suspense>
      ) : (
        outline && (
          <div className="flex min-h-0 flex-1">
            <div className={`flex min-h-0 flex-col ${arranged ? 'w-[38%] min-w-[240px]' : 'flex-1'}`}>
              <Outline outline={outline} />
            </div>
            {arranged && (
              <Suspense fallback={null}>
                <Arrangements key={view.id} view={view} pictures={notation.pictures} />
              </Suspense>
            )}
          </div>
        )
      )}
    </section>
  )
}

/** Whether some of what wraps in an element is not seen. */
function useHiding(): { list: RefObject<HTMLDivElement | null>; hides: boolean } {
  const list = useRef<HTMLDivElement>(null)
  const [hides, setHides] = useState(false)
  useEffect(() => {
    const element = list.current
    if (!element) return
    const look = () => setHides(element.scrollHeight > element.clientHeight + 4)
    const observer = new ResizeObserver(look)
    observer.observe(element)
    for (const child of element.children) observer.observe(child)
    return () => observer.disconnect()
  })
  return { list, hides }
}
