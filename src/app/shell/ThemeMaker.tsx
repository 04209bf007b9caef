import { useState, type ReactNode } from 'react'
import { grouped, type ThemeSpec, type Tone } from '../../core/model'
import {
  houseColours,
  mendedIn,
  readColour,
  SIGHT_WORDS,
  themeIn,
  TOLD_APART,
  twinsIn,
  type Scene,
} from '../../core/scene'
import { notify } from '../store/state'
import { useSet } from './useSet'
import { TONE_WORDS } from '../themes'
import { Painted } from './Painted'

const TILE = { width: 420, height: 264 } as const
const MOST_COLOURS = 3
/** A picture is looked at no larger than this. */
const SIDE = 72

type Choices = readonly (readonly [value: number, label: string])[]
const CORNERS: Choices = [
  [0.5, 'Small'],
  [1, 'Usual'],
  [2, 'Large'],
]
const TYPE: Choices = [
  [0.5, 'Even'],
  [1, 'Usual'],
  [1.6, 'Steep'],
]
const LINES: Choices = [
  [0.7, 'Thin'],
  [1, 'Usual'],
  [1.6, 'Heavy'],
]

/** A theme from one to three colours of a house, with the view in it as it is made. */
export function ThemeMaker({
  scene,
  tone,
  first,
  onKeep,
  onLeave,
}: {
  scene: Scene
  tone: Tone
  first: ThemeSpec
  onKeep: (spec: ThemeSpec) => void
  onLeave: () => void
}) {
  const [spec, setSpec] = useState(first)
  const [typed, setTyped] = useState<readonly string[]>(first.colours)
  const colours = typed.flatMap((text) => readColour(text) ?? [])
  const isRead = colours.length === typed.length && colours.length > 0
  const shown = { ...spec, colours: colours.length > 0 ? colours : first.colours }
  const set = useSet(scene, shown)
  const fromPicture = async (file: File | undefined) => {
    if (!file) return
    try {
      const found = houseColours(await pixelsOf(file))
      if (found.length === 0) notify(`“${file.name}” has no colour to read.`, 'refusal')
      else setTyped(found)
    } catch {
      notify(`“${file.name}” is no picture that can be read.`, 'refusal')
    }
  }
  return (
    <form
      className="grid grid-cols-[1fr_420px] gap-5 narrow:grid-cols-1"
      onSubmit={(event) => {
        event.preventDefault()
        if (isRead && spec.title.trim() !== '') onKeep({ ...shown, title: spec.title.trim() })
      }}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault()
        void fromPicture(event.dataTransfer.files[0])
      }}
    >
      <div className="space-y-2.5">
        <Line label="Title">
          <input
            data-first
            className="h-[26px] w-full border-b border-hairline bg-transparent"
            maxLength={60}
            value={spec.title}
            onChange={({ target }) => setSpec({ ...spec, title: target.value })}
          />
        </Line>
        {typed.map((text, at) => (
          <Line key={at} label={at === 0 ? 'Colours' : ''}>
            <span className="flex items-center gap-2">
              <span
                aria-hidden
                className="size-[18px] rounded-[2px] border border-hairline"
                style={{ background: readColour(text) ?? 'transparent' }}
              />
              <input
                aria-label={`Colour ${at + 1}`}
                aria-invalid={readColour(text) === undefined}
                className="numeric h-[26px] w-[96px] border-b border-hairline bg-transparent"
                value={text}
                onChange={({ target }) => setTyped(typed.with(at, target.value))}
              />
              {typed.length > 1 && (
                <button type="button" className="verb" onClick={() => setTyped(typed.toSpliced(at, 1))}>
                  Leave out
                </button>
              )}
              {readColour(text) === undefined && (
                <span className="text-[12px] text-error">Six digits, as #1f5fa8.</span>
              )}
            </span>
          </Line>
        ))}
        <Line label="">
          <span className="flex gap-4">
            {typed.length < MOST_COLOURS && (
              <button type="button" className="verb" onClick={() => setTyped([...typed, '#8a5c06'])}>
                One more
              </button>
            )}
            <label className="verb cursor-pointer">
              Read from a picture
              <input
                type="file"
                accept="image/*"
                className="sr-only"
                onChange={({ target }) => {
                  void fromPicture(target.files?.[0])
                  target.value = ''
                }}
              />
            </label>
          </span>
        </Line>
        <Line label="Corners">
          <Chosen list={CORNERS} value={spec.corners} onChoose={(corners) => setSpec({ ...spec, corners })} />
        </Line>
        <Line label="Lines">
          <Chosen list={LINES} value={spec.lines} onChoose={(lines) => setSpec({ ...spec, lines })} />
        </Line>
        <Line label="Sizes">
          <Chosen list={TYPE} value={spec.type} onChoose={(type) => setSpec({ ...spec, type })} />
        </Line>
        <label className="ml-[88px] flex items-center gap-1.5">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={spec.isAsGiven === true}
            onChange={({ target }) => setSpec({ ...spec, isAsGiven: target.checked })}
          />
          Draw them exactly as given
        </label>
        <Said spec={shown} tone={tone} />
        <div className="flex gap-5 pt-1">
          <button type="submit" className="btn btn-primary btn-sm" disabled={!isRead || spec.title.trim() === ''}>
            Keep and use it
          </button>
          <button type="button" className="verb" onClick={onLeave}>
            Back to the themes
          </button>
        </div>
      </div>
      <figure>
        <span className="block overflow-hidden rounded-[3px] border border-hairline" data-testid="theme-preview">
          <Painted scene={set} theme={themeIn(shown, tone)} {...TILE} />
        </span>
        <figcaption className="mt-1 text-[12px] text-quiet">{TONE_WORDS[tone]}</figcaption>
        <Steps spec={shown} tone={tone} />
      </figure>
    </form>
  )
}

/** What is not drawn as given, what stands out too little, and what some do not tell apart. */
function Said({ spec, tone }: { spec: ThemeSpec; tone: Tone }) {
  const mended = mendedIn(spec, tone)
  const twins = twinsIn(spec, tone, TOLD_APART)
  if (mended.length + twins.length === 0) return null
  return (
    <ul className="ml-[88px] space-y-1 text-[12px] text-quiet" data-testid="mended">
      {mended.map(({ given, contrast, least, drawn }) => (
        <li key={given}>
          <span className="numeric">{given}</span> is {contrast.toFixed(1)} to 1 on the sheet, {least} to 1 is the
          least:{' '}
          {spec.isAsGiven ? (
            <strong className="font-semibold text-warning">it is drawn so all the same.</strong>
          ) : (
            <>
              drawn as <span className="numeric">{drawn}</span>.
            </>
          )}
        </li>
      ))}
      {[...grouped(twins, ({ one, other }) => `${one} and ${other}`)].map(([pair, found]) => (
        <li key={pair}>
          <span className="numeric">{pair}</span> are hardly told apart{' '}
          {found.map(({ sight }) => SIGHT_WORDS[sight]).join(', ')}.
        </li>
      ))}
    </ul>
  )
}

/** The eight categories, from the house colours on. */
function Steps({ spec, tone }: { spec: ThemeSpec; tone: Tone }) {
  const { colours } = themeIn(spec, tone)
  return (
    <span aria-hidden className="mt-2 grid grid-cols-8 gap-1">
      {Array.from({ length: 8 }, (_, at) => (
        <span
          key={at}
          className="h-[22px] rounded-[2px] border-2"
          style={{ background: colours[`fill-${at + 1}`], borderColor: colours[`edge-${at + 1}`] }}
        />
      ))}
    </span>
  )
}

const Line = ({ label, children }: { label: string; children: ReactNode }) => (
  <div className="grid grid-cols-[88px_1fr] items-center">
    <span className="text-quiet">{label}</span>
    {children}
  </div>
)

function Chosen({ list, value, onChoose }: { list: Choices; value: number; onChoose: (value: number) => void }) {
  return (
    <span className="flex gap-4">
      {list.map(([one, label]) => (
        <button
          key={one}
          type="button"
          aria-pressed={one === value}
          className="verb aria-pressed:font-semibold aria-pressed:text-base-content aria-pressed:underline"
          onClick={() => onChoose(one)}
        >
          {label}
        </button>
      ))}
    </span>
  )
}

/** The pixels of a picture, made small: its colours are all that is asked of it. */
async function pixelsOf(file: File): Promise<Uint8ClampedArray> {
  const picture = await createImageBitmap(file, { resizeWidth: SIDE, resizeHeight: SIDE, resizeQuality: 'medium' })
  const canvas = new OffscreenCanvas(SIDE, SIDE)
  const context = canvas.getContext('2d')
  if (!context) throw new Error('no canvas')
  context.drawImage(picture, 0, 0)
  picture.close()
  return context.getImageData(0, 0, SIDE, SIDE).data
}
