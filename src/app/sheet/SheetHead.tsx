import { pictureOf } from '../../core/notation'
import { registry } from '../../core/notations'
import { themeOf, themes } from '../../core/scene'
import { Menu } from '../shell/Menu'
import { useParts, useWorkspace } from '../store'
import { setOption, setTheme } from '../views'
import { useCamera } from './camera'

/** Options that have a word of their own in the head; the others share a menu. */
const INLINE = 2

/** The title of the picture, what it shows in a line, and how it is looked at. */
export function SheetHead() {
  const { proof } = useParts('proof')
  const headline = useWorkspace((state) => state.scene?.headline)
  const view = useWorkspace((state) => (state.viewId === undefined ? undefined : state.model.views.get(state.viewId)))
  const { k, zoomBy, fit } = useCamera()
  const picture = view && pictureOf(registry, view)
  if (!view || !picture) return <div className="h-[36px] shrink-0 border-b border-hairline" />
  const valueOf = (option: (typeof picture.options)[number]) => String(view.options[option.id] ?? option.initial ?? '')
  const choices = (option: (typeof picture.options)[number]) =>
    (option.choices ?? []).map((choice) => ({
      label: choice,
      chosen: choice === valueOf(option),
      run: () => setOption(view, option.id, option.label, choice),
    }))
  const word = 'whitespace-nowrap text-quiet hover:text-base-content'
  return (
    <div className="flex h-[36px] shrink-0 items-center gap-3.5 border-b border-hairline bg-base-100 px-4">
      <h1 className="max-w-[46%] shrink-0 truncate text-[15px] font-semibold">{view.title}</h1>
      <p className="min-w-0 flex-1 truncate text-quiet" data-testid="headline">
        {headline}
      </p>
      {picture.options.slice(0, INLINE).map((option) => (
        <Menu
          key={option.id}
          label={`${option.label}: ${valueOf(option)}`}
          className={word}
          trigger={`${option.label} ${valueOf(option)} ▾`}
          entries={choices(option)}
        />
      ))}
      <Menu
        label="More about the look"
        className={word}
        trigger="Look ▾"
        entries={[
          ...picture.options
            .slice(INLINE)
            .flatMap((option) => [
              ...choices(option).map((entry) => ({ ...entry, label: `${option.label} ${entry.label}` })),
              null,
            ]),
          ...themes.map(({ id, title }) => ({
            label: title,
            chosen: themeOf(view.look['theme']).id === id,
            run: () => setTheme(view, id),
          })),
        ]}
      />
      <button
        type="button"
        aria-pressed={proof}
        title="As a grey printer would print it"
        className={`${word} aria-pressed:font-semibold aria-pressed:text-primary`}
        onClick={() => useWorkspace.setState({ proof: !proof })}
      >
        Proof
      </button>
      <span className="flex items-center text-quiet">
        <button
          type="button"
          aria-label="Smaller"
          className="w-[18px] hover:text-base-content"
          onClick={() => zoomBy(1 / 1.25)}
        >
          −
        </button>
        <span className="w-[44px] text-center whitespace-nowrap tabular-nums" data-testid="zoom">
          {Math.round(k * 100)} %
        </span>
        <button
          type="button"
          aria-label="Larger"
          className="w-[18px] hover:text-base-content"
          onClick={() => zoomBy(1.25)}
        >
          +
        </button>
      </span>
      <button type="button" className={word} onClick={fit}>
        Fit
      </button>
    </div>
  )
}
