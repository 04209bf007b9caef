import { useRef, useState, type ReactNode } from 'react'
import { TONES, type ThemeSpec, type Tone, type View } from '../../core/model'
import { themeIn, themesOf, type Scene } from '../../core/scene'
import { save, slug } from '../picture'
import { currentView, useParts, useWorkspace } from '../store/state'
import {
  bringTheme,
  dress,
  dressOf,
  followWorkspace,
  keepTheme,
  removeTheme,
  themeFileOf,
  TONE_WORDS,
  type Reach,
} from '../themes'
import { Dialog } from './Dialog'
import { Painted } from './Painted'
import { ThemeMaker } from './ThemeMaker'
import { useSet } from './useSet'

const TILE = { width: 209, height: 124 } as const
const NEW: ThemeSpec = {
  id: '',
  title: 'House style',
  hues: [],
  chroma: 0.08,
  colours: ['#1f5fa8'],
  corners: 1,
  lines: 1,
  type: 1,
}

/** The view itself in every theme there is, in the tone that is chosen; one's own are made here, changed and handed on. */
export function ThemeDesk() {
  const { scene } = useParts('scene')
  const view = useWorkspace(currentView)
  const model = useWorkspace((state) => state.model)
  const [reach, setReach] = useState<Reach>('view')
  const [making, setMaking] = useState<ThemeSpec | undefined>(undefined)
  const close = () => useWorkspace.setState({ dialog: undefined })
  if (!view || !scene) return null
  const { theme, tone, isOwn } = dressOf(view)
  if (making)
    return (
      <Dialog title={making.id === '' ? 'A theme of your own' : `Change “${making.title}”`} width={860} onClose={close}>
        <ThemeMaker
          scene={scene}
          tone={tone}
          first={making}
          onLeave={() => setMaking(undefined)}
          onKeep={(spec) => {
            if (keepTheme(spec, view, reach)) setMaking(undefined)
          }}
        />
      </Dialog>
    )
  return (
    <Dialog title="Theme" width={920} onClose={close}>
      <div className="mb-3 flex flex-wrap items-center gap-x-6 gap-y-2 border-b border-hairline pb-3">
        <Choice
          legend="Drawn for"
          chosen={tone}
          options={TONES.map((one) => [one, TONE_WORDS[one]])}
          onChoose={(one) => dress(view, reach, { tone: one })}
        />
        <Choice
          legend="Chosen for"
          chosen={reach}
          options={[
            ['view', 'this view'],
            ['workspace', 'all views'],
          ]}
          onChoose={setReach}
        />
        {isOwn && (
          <button type="button" className="verb" onClick={() => followWorkspace(view)}>
            As the workspace
          </button>
        )}
      </div>
      <ul className="grid max-h-[520px] grid-cols-4 gap-3 overflow-y-auto narrow:grid-cols-2" data-testid="themes">
        {themesOf(model.settings).map((spec, at) => (
          <li key={spec.id}>
            <Tile
              spec={spec}
              scene={scene}
              tone={tone}
              isChosen={spec.id === theme}
              isFirst={at === 0}
              onTake={() => dress(view, reach, { theme: spec })}
            />
            {spec.colours.length > 0 && <Own spec={spec} onChange={() => setMaking(spec)} />}
          </li>
        ))}
      </ul>
      <div className="mt-3 flex gap-5 border-t border-hairline pt-3">
        <button type="button" className="verb" onClick={() => setMaking(NEW)}>
          Make one of your colours
        </button>
        <BringIn view={view} reach={reach} />
      </div>
    </Dialog>
  )
}

function Tile({
  spec,
  scene,
  tone,
  isChosen,
  isFirst,
  onTake,
}: {
  spec: ThemeSpec
  scene: Scene
  tone: Tone
  isChosen: boolean
  isFirst: boolean
  onTake: () => void
}) {
  const set = useSet(scene, spec)
  return (
    <button
      type="button"
      aria-pressed={isChosen}
      className="group block w-full text-left"
      onClick={onTake}
      {...(isFirst ? { 'data-first': true } : {})}
    >
      <span className="block overflow-hidden rounded-[3px] border border-hairline group-hover:border-primary group-aria-pressed:outline-2 group-aria-pressed:-outline-offset-1 group-aria-pressed:outline-primary">
        <Painted scene={set} theme={themeIn(spec, tone)} {...TILE} />
      </span>
      <span className="mt-1 block truncate font-semibold group-hover:underline">{spec.title}</span>
    </button>
  )
}

const Own = ({ spec, onChange }: { spec: ThemeSpec; onChange: () => void }) => (
  <span className="flex gap-3 text-[12px]">
    <button type="button" className="verb" onClick={onChange}>
      Change
    </button>
    <button
      type="button"
      className="verb"
      onClick={() => save(themeFileOf(spec), `${slug(spec.title)}.skivel-theme.json`)}
    >
      Hand on
    </button>
    <button type="button" className="verb" onClick={() => removeTheme(spec)}>
      Remove
    </button>
  </span>
)

function BringIn({ view, reach }: { view: View; reach: Reach }) {
  const input = useRef<HTMLInputElement>(null)
  return (
    <>
      <button type="button" className="verb" onClick={() => input.current?.click()}>
        Bring in a theme
      </button>
      <input
        ref={input}
        type="file"
        accept=".json,application/json"
        aria-label="A theme file"
        className="hidden"
        onChange={({ target }) => {
          const [file] = target.files ?? []
          target.value = ''
          if (file) void bringTheme(file, view, reach)
        }}
      />
    </>
  )
}

/** A few words of which one is chosen. */
function Choice<T extends string>({
  legend,
  chosen,
  options,
  onChoose,
}: {
  legend: string
  chosen: T
  options: readonly (readonly [value: T, label: ReactNode])[]
  onChoose: (value: T) => void
}) {
  return (
    <fieldset className="flex flex-wrap items-center gap-x-3">
      <legend className="float-left mr-3 text-quiet">{legend}</legend>
      {options.map(([value, label]) => (
        <label
          key={value}
          className="cursor-pointer whitespace-nowrap has-[:checked]:font-semibold has-[:checked]:text-primary"
        >
          <input
            type="radio"
            name={legend}
            className="radio radio-xs mr-1.5 align-[-2px]"
            checked={value === chosen}
            onChange={() => onChoose(value)}
          />
          {label}
        </label>
      ))}
    </fieldset>
  )
}
