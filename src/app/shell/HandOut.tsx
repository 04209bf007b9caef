import { useEffect, useMemo, useState } from 'react'
import { dayInWords, wordsOf, type View } from '../../core/model'
import { themeFor, type Scene } from '../../core/scene'
import { copyText } from '../clipboard'
import {
  addressOf,
  carries,
  copyPicture,
  faultIn,
  FORMAT_WORDS,
  FORMATS,
  handOut,
  isOnPaper,
  isPixels,
  isText,
  lookFor,
  measured,
  remember,
  remembered,
  viewsOf,
  type Choices,
  type Measured,
} from '../handOut'
import { drawnIn } from '../store/asking'
import { make } from '../store/changes'
import { currentView, notify, useParts, useWorkspace } from '../store/state'
import { Book } from './Book'
import { Check } from './Check'
import { Dialog } from './Dialog'
import { Drawing } from './Drawing'
import { Feeds } from './Feeds'
import { Readers } from './Readers'
import { Chosen, DocumentFields, FactsField, Numeral, PixelFields, Radios, Row } from './HandOutFields'
import { HandOutPreview } from './HandOutPreview'

/** A picture of the view for a document or for paper, its address, and the facts as a file. */
export function HandOut() {
  const { id, scene, day } = useParts('id', 'scene', 'day')
  const view = useWorkspace(currentView)
  const close = () => useWorkspace.setState({ dialog: undefined })
  return (
    <Dialog title="Hand out" width={900} onClose={close}>
      {!view || !scene ? (
        <p className="text-quiet">There is no picture to hand out yet.</p>
      ) : (
        <>
          <p className="mb-3 flex text-quiet">
            “{view.title}” as of {dayInWords(day)}
            <a className="verb ml-auto" href={`/api/workspaces/${id}/file`} download>
              Save the facts
            </a>
          </p>
          <Desk key={view.id} view={view} scene={scene} onDone={close} />
          <Book />
          <Readers workspace={id} view={view} />
          <Feeds workspace={id} view={view} />
        </>
      )}
    </Dialog>
  )
}

type Busy = { readonly since: number } | undefined

function Desk({ view, scene: shown, onDone }: { view: View; scene: Scene; onDone: () => void }) {
  const theme = useWorkspace(({ model }) => themeFor(model.settings, view.look))
  const [choices, setChoices] = useState<Choices>(remembered)
  const [busy, setBusy] = useState<Busy>(undefined)
  const put = (some: Partial<Choices>) => setChoices({ ...choices, ...some })
  const { scene, isReady } = useScene(view, shown, choices)
  const fault = faultIn(choices)
  const isWrong = fault !== undefined
  const size = useMemo(() => (isWrong ? undefined : measured(scene, view, choices)), [isWrong, scene, view, choices])
  const wrong = fault?.words ?? (typeof size === 'string' ? size : undefined)
  const known = typeof size === 'string' ? undefined : size
  const isDocument = choices.format === 'pdf'
  const isWords = isText(choices)
  const isGrounded = choices.format === 'jpg' || isDocument || isWords
  const isSeeThrough = choices.transparent && !isGrounded

  const during = (work: () => Promise<void>) => {
    if (busy || wrong !== undefined || !isReady) return
    setBusy({ since: Date.now() })
    remember(choices)
    work()
      .catch((error: unknown) => notify(wordsOf(error), 'refusal'))
      .finally(() => setBusy(undefined))
  }
  const download = () =>
    during(async () => {
      const words = await handOut(view, scene, choices)
      onDone()
      notify(words)
    })
  const copy = () =>
    during(async () => {
      await copyPicture(view, scene, choices)
      onDone()
      notify('The picture is copied, with its words and its caption.')
    })
  return (
    <form
      className="grid grid-cols-[440px_1fr] gap-6 narrow:grid-cols-1 narrow:gap-4"
      onSubmit={(event) => {
        event.preventDefault()
        download()
      }}
    >
      <div>
        <HandOutPreview scene={scene} theme={theme} caption={view.caption} size={known} isSeeThrough={isSeeThrough} />
        <p className="mt-1.5 text-quiet tabular-nums" data-testid="hand-out-size">
          {known ? sizeIn(known, view, choices) : ' '}
        </p>
        <div className="mt-3">
          <ViewText view={view} part="caption" label="Caption" hint="Stands beneath the picture" />
          <ViewText view={view} part="alt" label="In words" hint={scene.summary} />
        </div>
      </div>
      <div className="flex flex-col">
        <Radios
          legend="As"
          name="format"
          value={choices.format}
          list={FORMATS.map((one) => [one, FORMAT_WORDS[one][0]])}
          onChoose={(format) => put({ format })}
        />
        <p className="mb-2 ml-[88px] text-[12px] text-quiet">{FORMAT_WORDS[choices.format][1]}</p>
        {isPixels(choices) && <PixelFields choices={choices} put={put} />}
        {choices.format === 'svg' && (
          <>
            <Row label="Width">
              <Numeral of="width" choices={choices} put={put} label="Width" /> px
            </Row>
            <Row label="Letters">
              <Chosen
                label="Letters"
                value={choices.letters}
                list={[
                  ['named', 'text, in the fonts of the reader'],
                  ['inside', 'text, with its fonts inside'],
                  ['outlines', 'outlines: no text'],
                ]}
                onChoose={(letters) => put({ letters })}
              />
            </Row>
          </>
        )}
        {isDocument && <DocumentFields view={view} choices={choices} put={put} />}
        {isWords && choices.format !== 'html' && (
          <Row label="Picture">
            <Numeral of="wide" choices={choices} put={put} label="Picture, wide" /> mm wide
          </Row>
        )}
        {isWords && (
          <Row label="Registers">
            <Check checked={choices.tables} onCheck={(tables) => put({ tables })}>
              of what it shows, beneath
            </Check>
          </Row>
        )}
        {!isWords && (
          <Row label="Border">
            <Numeral of="border" choices={choices} put={put} label="Border" />{' '}
            {isDocument || isOnPaper(choices) ? 'mm' : 'px'}
          </Row>
        )}
        {(choices.format === 'jpg' || choices.format === 'webp') && (
          <Row label="Quality">
            <Numeral of="quality" choices={choices} put={put} label="Quality" /> of 100
          </Row>
        )}
        {!isDocument && !isWords && scene.pages && (
          <Row label="Pages">
            <Check checked={choices.apart} onCheck={(apart) => put({ apart })}>
              each of the {scene.pages.length} as a picture of its own
            </Check>
          </Row>
        )}
        {!isGrounded && (
          <Row label="Ground">
            <Check checked={choices.transparent} onCheck={(transparent) => put({ transparent })}>
              see-through
            </Check>
          </Row>
        )}
        {carries(choices) && <FactsField view={view} choices={choices} put={put} />}
        {wrong !== undefined && (
          <p role="alert" className="mt-2 text-error">
            ■ {wrong}
          </p>
        )}
        <div className="mt-auto flex flex-wrap items-center gap-x-4 gap-y-2 pt-4">
          <button
            type="submit"
            data-first
            className="btn btn-primary btn-sm"
            disabled={busy !== undefined || wrong !== undefined || !isReady}
          >
            {busy ? <Drawing since={busy.since} /> : isDocument || isWords ? 'Save the document' : 'Save the picture'}
          </button>
          {!isDocument && !isWords && (
            <button type="button" className="verb" disabled={wrong !== undefined || !isReady} onClick={copy}>
              Copy the picture
            </button>
          )}
          <button
            type="button"
            className="verb"
            onClick={() =>
              void copyText(
                new URL(addressOf(view, choices), window.location.href).href,
                'The address is copied. It always draws the facts as they are then.',
              )
            }
          >
            Copy its address
          </button>
        </div>
      </div>
    </form>
  )
}

/** The scene on the paper that is chosen; what is shown until it is drawn, and is ready then. */
function useScene(view: View, shown: Scene, choices: Choices): { readonly scene: Scene; readonly isReady: boolean } {
  const look = useMemo(() => lookFor(view, choices), [view, choices])
  const key = JSON.stringify([look['paper'], look['across']])
  const own = JSON.stringify([view.look['paper'], view.look['across']])
  const [drawn, setDrawn] = useState<{ readonly key: string; readonly of: Scene; readonly scene: Scene }>()
  useEffect(() => {
    if (key === own) return
    let isLeft = false
    drawnIn(look).then(
      (scene) => {
        if (!isLeft && scene) setDrawn({ key, of: shown, scene })
      },
      (error: unknown) => notify(wordsOf(error), 'refusal'),
    )
    return () => {
      isLeft = true
    }
    // The look is as its key says.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key, own, shown])
  if (key === own) return { scene: shown, isReady: true }
  const isReady = drawn?.key === key && drawn.of === shown
  return { scene: isReady ? drawn.scene : shown, isReady }
}

function sizeIn(size: Measured, view: View, choices: Choices): string {
  if (isText(choices)) return choices.format === 'html' ? 'As wide as the page' : `${choices.wide} mm wide`
  if ('sheets' in size) {
    const [first] = size.sheets
    if (!first) return ' '
    const mm = (points: number) => Math.round((points * 25.4) / 72).toLocaleString('en')
    const count = size.sheets.length
    const others = viewsOf(view, choices).length
    const of = others > 1 ? `, first of ${others} views` : ''
    return `${count} ${count === 1 ? 'sheet' : 'sheets'} of ${mm(first.width)} × ${mm(first.height)} mm${of}`
  }
  const { width, height } = size.pixels
  const mega = (width * height) / 1e6
  const about = mega >= 0.095 ? `, ${mega.toLocaleString('en', { maximumFractionDigits: 1 })} megapixels` : ''
  return `${width.toLocaleString('en')} × ${height.toLocaleString('en')} px${isPixels(choices) ? about : ''}`
}

/** The view’s caption or alternative text: kept with the view, and carried into every picture of it. */
function ViewText({ view, part, label, hint }: { view: View; part: 'caption' | 'alt'; label: string; hint: string }) {
  const [typed, setTyped] = useState(view[part] ?? '')
  const keep = () => {
    const text = typed.trim()
    if (text === (view[part] ?? '')) return
    const step = { do: 'set-view' as const, id: view.id, path: part, value: text === '' ? null : text }
    make({ label: `${label} of “${view.title}”`, steps: [step] })
  }
  return (
    <label className="mb-1 grid grid-cols-[88px_1fr] items-center">
      <span className="text-quiet">{label}</span>
      <input
        name={part}
        maxLength={1000}
        className="h-[24px] border-b border-hairline bg-transparent outline-none focus:border-primary"
        value={typed}
        placeholder={hint}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={keep}
      />
    </label>
  )
}
