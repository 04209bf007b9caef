import { useState } from 'react'
import type { View } from '../../core/model'
import { GROUNDS, STRENGTH } from '../../core/notation'
import { setAround, setGround, setRegion, setSource, setStrength, takeGround, takeHouse } from '../frame'
import { useWorkspace } from '../store/state'

const AROUND = [
  ['heading', 'Heading'],
  ['asOf', 'Facts as of'],
  ['house', 'House mark'],
] as const

const LABELLED = 'grid grid-cols-[96px_1fr] items-center'
const INPUT = 'h-[24px] w-full border-b border-hairline bg-base-100 focus:border-primary focus:outline-none'

/** What stands around a picture, and what lies behind it. */
export function AroundFields({ view }: { view: View }) {
  const { look } = view
  const mark = useWorkspace(({ model }) => model.settings.look?.['mark'])
  const ground = typeof look['ground'] === 'string' ? look['ground'] : 'none'
  return (
    <fieldset className="mt-2 border-t border-hairline pt-2">
      <legend className="caps float-left mb-1 w-full">Around it</legend>
      <div className="clear-both grid grid-cols-2 gap-x-2">
        {AROUND.map(([path, label]) => (
          <label key={path} className="flex h-[22px] items-center gap-1.5">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={look[path] === true}
              onChange={(event) => setAround(view, path, label, event.target.checked)}
            />
            {label}
          </label>
        ))}
        {look['house'] === true && (
          <PictureButton
            label={mark === undefined ? 'Choose the mark …' : 'Another mark …'}
            onFile={(file) => takeHouse(view, file)}
          />
        )}
      </div>
      <SourceField key={String(look['source'] ?? '')} view={view} />
      <label className={LABELLED}>
        <span className="text-quiet">Ground</span>
        <select
          className="h-[24px] border-b border-hairline bg-base-100"
          value={ground}
          onChange={(event) => setGround(view, event.target.value)}
        >
          {GROUNDS.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
      </label>
      {ground === 'picture' && (
        <div className={LABELLED}>
          <span className="text-quiet">Picture</span>
          <PictureButton
            label={look['picture'] === undefined ? 'Choose …' : 'Another …'}
            onFile={(file) => takeGround(view, file)}
          />
        </div>
      )}
      {ground === 'map' && <RegionField key={String(look['region'] ?? '')} view={view} />}
      {(ground === 'picture' || ground === 'map') && (
        <label className={LABELLED}>
          <span className="text-quiet">Strength</span>
          <span className="flex items-center gap-2">
            <input
              type="range"
              className="range range-xs flex-1"
              min={1}
              max={100}
              value={Number(look['strength'] ?? (ground === 'map' ? 100 : STRENGTH))}
              onChange={(event) => setStrength(view, Number(event.target.value))}
            />
            <span className="numeric w-[38px] text-right text-[12px]">
              {Number(look['strength'] ?? (ground === 'map' ? 100 : STRENGTH))} %
            </span>
          </span>
        </label>
      )}
    </fieldset>
  )
}

function PictureButton({ label, onFile }: { label: string; onFile: (file: File) => Promise<void> }) {
  return (
    <label className="verb cursor-pointer text-[12px] focus-within:underline">
      {label}
      <input
        type="file"
        className="sr-only"
        accept="image/png,image/jpeg,image/webp"
        onChange={(event) => {
          const [file] = event.target.files ?? []
          event.target.value = ''
          if (file) void onFile(file)
        }}
      />
    </label>
  )
}

function SourceField({ view }: { view: View }) {
  const [typed, setTyped] = useState(typeof view.look['source'] === 'string' ? view.look['source'] : '')
  return (
    <label className={LABELLED}>
      <span className="text-quiet">Source</span>
      <input
        className={INPUT}
        maxLength={400}
        placeholder="where the facts are from"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={() => setSource(view, typed)}
        onKeyDown={(event) => event.key === 'Enter' && setSource(view, typed)}
      />
    </label>
  )
}

function RegionField({ view }: { view: View }) {
  const [typed, setTyped] = useState(typeof view.look['region'] === 'string' ? view.look['region'] : '')
  const [isRead, setRead] = useState(true)
  const keep = () => setRead(setRegion(view, typed))
  return (
    <label className={LABELLED}>
      <span className="text-quiet">Region</span>
      <span>
        <input
          className={`${INPUT} numeric`}
          placeholder="around the sites"
          value={typed}
          aria-invalid={!isRead}
          onChange={(event) => setTyped(event.target.value)}
          onBlur={keep}
          onKeyDown={(event) => event.key === 'Enter' && keep()}
        />
        {!isRead && (
          <span role="alert" className="text-[11px] text-error">
            Two corners in degrees, north and east positive, as 55 8, 60 15.
          </span>
        )}
      </span>
    </label>
  )
}
