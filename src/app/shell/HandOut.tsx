import { useState } from 'react'
import { dayInWords, type View } from '../../core/model'
import { pageOf, svgSize, themeFor, toSvg } from '../../core/scene'
import { copyText } from '../clipboard'
import { make } from '../store/changes'
import { currentView, notify, useParts, useWorkspace } from '../store/state'
import { imagesOf, pngBlob, save, slug } from '../picture'
import { Dialog } from './Dialog'
import { Feeds } from './Feeds'
import { Check } from './Check'

type Format = 'png' | 'svg'

/** A picture of the view for a document, its address, and the facts as a file. */
export function HandOut() {
  const { id, scene, day } = useParts('id', 'scene', 'day')
  const [format, setFormat] = useState<Format>('png')
  const [width, setWidth] = useState('1600')
  const [transparent, setTransparent] = useState(false)
  const [apart, setApart] = useState(true)
  const [busy, setBusy] = useState(false)
  const view = useWorkspace(currentView)
  const close = () => useWorkspace.setState({ dialog: undefined })
  const wanted = Number(width)
  const fault = !/^\d+$/.test(width) || wanted < 16 || wanted > 12_000 ? 'A width is 16 to 12 000 pixels.' : undefined
  const caption = view?.caption
  const size =
    scene && !fault ? svgSize(scene, { width: wanted, ...(caption === undefined ? {} : { caption }) }) : undefined

  const download = async () => {
    if (!scene || !view || fault || !size) return
    setBusy(true)
    try {
      const options = {
        theme: themeFor(useWorkspace.getState().model.settings, view.look),
        title: view.title,
        base: `${window.location.origin}/w/${id}`,
        width: wanted,
        transparent,
        ...(view.caption === undefined ? {} : { caption: view.caption }),
        ...(view.alt === undefined ? {} : { alt: view.alt }),
      }
      const pages = apart && scene.pages ? scene.pages.map((page) => pageOf(scene, page)) : [scene]
      for (const [index, page] of pages.entries()) {
        const name = `${slug(view.title)}${pages.length > 1 ? `-${index + 1}` : ''}-${day}.${format}`
        if (format === 'png') save(await pngBlob(id, page, options), name)
        else {
          const svg = toSvg(page, { ...options, images: await imagesOf(id, page) })
          save(new Blob([svg], { type: 'image/svg+xml' }), name)
        }
      }
      close()
      notify(pages.length > 1 ? `${pages.length} pages are saved.` : `${slug(view.title)}-${day}.${format} is saved.`)
    } catch (error) {
      notify(error instanceof Error ? error.message : 'The picture could not be made.', 'refusal')
    } finally {
      setBusy(false)
    }
  }
  const address = `/api/workspaces/${id}/views/${encodeURIComponent(view?.id ?? '')}.${format}?day=${day}&width=${fault ? 1600 : wanted}${transparent ? '&transparent=yes' : ''}`
  const copyAddress = () =>
    void copyText(
      new URL(address, window.location.href).href,
      'The address is copied. It always draws the facts as they are then.',
    )
  return (
    <Dialog title="Hand out" onClose={close}>
      {!view || !scene ? (
        <p className="text-quiet">There is no picture to hand out yet.</p>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault()
            void download()
          }}
        >
          <p className="mb-3 text-quiet">
            “{view.title}” as of {dayInWords(day)}
          </p>
          <fieldset className="mb-2 grid grid-cols-[96px_1fr] items-center gap-y-2">
            <legend className="sr-only">Picture</legend>
            <span className="text-quiet">Picture</span>
            <span className="flex gap-4">
              {(['png', 'svg'] as const).map((one) => (
                <label key={one} className="flex items-center gap-1.5">
                  <input
                    type="radio"
                    className="radio radio-xs"
                    name="format"
                    checked={format === one}
                    onChange={() => setFormat(one)}
                  />
                  {one === 'png' ? 'Pixels (PNG)' : 'Lines (SVG)'}
                </label>
              ))}
            </span>
            <label className="text-quiet" htmlFor="width">
              Width
            </label>
            <span>
              <input
                id="width"
                inputMode="numeric"
                className="numeric w-[72px] border-b border-hairline bg-transparent text-right outline-none focus:border-primary"
                value={width}
                onChange={(event) => setWidth(event.target.value.trim())}
              />{' '}
              px{size && <span className="ml-2 text-quiet tabular-nums">× {size.height} px</span>}
            </span>
            {scene.pages && (
              <>
                <span className="text-quiet">Pages</span>
                <Check checked={apart} onCheck={setApart}>
                  each of the {scene.pages.length} as a picture of its own
                </Check>
              </>
            )}
            <span className="text-quiet">Ground</span>
            <Check checked={transparent} onCheck={setTransparent}>
              see-through
            </Check>
          </fieldset>
          <ViewText view={view} part="caption" label="Caption" hint="Stands beneath the picture" />
          <ViewText view={view} part="alt" label="In words" hint={scene.summary} />
          {fault && (
            <p role="alert" className="mb-2 text-error">
              ■ {fault}
            </p>
          )}
          <div className="mt-4 flex items-center gap-4">
            <button type="submit" className="btn btn-primary btn-sm" disabled={busy || fault !== undefined}>
              {busy ? 'Drawing …' : 'Save the picture'}
            </button>
            <button type="button" className="verb" onClick={copyAddress}>
              Copy its address
            </button>
            <a className="verb" href={`/api/workspaces/${id}/file`} download>
              Save the facts
            </a>
          </div>
        </form>
      )}
      {view && <Feeds workspace={id} view={view} />}
    </Dialog>
  )
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
    <label className="mb-1 grid grid-cols-[96px_1fr] items-center">
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
