import { notationOf, pictureOf } from '../../core/notation'
import { handlings } from '../../core/notations/handling'
import { SIGHTS } from '../../core/scene'
import { Menu } from '../shell/Menu'
import { SIGHT_WORDS } from '../shell/sights'
import { fold } from '../store/folds'
import { useParts, useWorkspace } from '../store/state'
import { setPicture } from '../views'
import { useCamera } from './camera'
import { Look } from './Look'

/** Takes the keyboard to where arrangements are searched, which comes with the outline. */
function toArrangements(): void {
  fold('registers', false)
  useWorkspace.setState({ panel: 'outline' })
  const seek = (left: number) => {
    const field = document.querySelector<HTMLInputElement>('[data-arrangement-search]')
    if (field) field.focus()
    else if (left > 0) requestAnimationFrame(() => seek(left - 1))
  }
  seek(60)
}

/** The title of the picture, what it shows in a line, and how it is looked at. */
export function SheetHead() {
  const { proof } = useParts('proof')
  const headline = useWorkspace((state) => state.scene?.headline)
  const view = useWorkspace((state) => (state.viewId === undefined ? undefined : state.model.views.get(state.viewId)))
  const { k, zoomBy, fit } = useCamera()
  const picture = view && pictureOf(handlings, view)
  if (!view || !picture) return <div className="h-[36px] shrink-0 border-b border-hairline" />
  const pictures = notationOf(handlings, view)?.pictures ?? []
  const word = 'whitespace-nowrap text-quiet hover:text-base-content'
  return (
    <div className="flex h-[36px] shrink-0 items-center gap-3.5 border-b border-hairline bg-base-100 px-4 narrow:h-auto narrow:min-h-[36px] narrow:flex-wrap narrow:gap-y-1 narrow:px-3 narrow:py-1">
      <h1 className="max-w-[46%] narrow:max-w-full narrow:flex-1 shrink-0 truncate text-[15px] font-semibold">
        {view.title}
      </h1>
      <p className="min-w-0 flex-1 truncate text-quiet narrow:sr-only" data-testid="headline" title={headline}>
        {headline}
      </p>
      {picture.arranges ? (
        <button type="button" className={word} title="The same lines in another arrangement" onClick={toArrangements}>
          {picture.title} ▾
        </button>
      ) : (
        pictures.length > 1 && (
          <Menu
            label={`Picture: ${picture.title}`}
            className={word}
            trigger={`${picture.title} ▾`}
            entries={pictures.map((one) => ({
              label: one.title,
              chosen: one.id === picture.id,
              run: () => setPicture(view, one),
            }))}
          />
        )
      )}
      <Look view={view} picture={picture} className={word} />
      <Menu
        label="Proof"
        className={proof ? 'font-semibold whitespace-nowrap text-primary' : word}
        trigger={proof ? `${SIGHT_WORDS[proof][0]} ▾` : 'Proof ▾'}
        entries={[
          { label: 'As it is', chosen: proof === undefined, run: () => useWorkspace.setState({ proof: undefined }) },
          ...SIGHTS.map((sight) => ({
            label: SIGHT_WORDS[sight][0],
            chosen: proof === sight,
            run: () => useWorkspace.setState({ proof: sight }),
          })),
          null,
          { label: 'All side by side', run: () => useWorkspace.setState({ dialog: 'proof' }) },
        ]}
      />
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
