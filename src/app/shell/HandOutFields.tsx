import { useEffect, useState, type ReactNode } from 'react'
import type { View } from '../../core/model'
import { PAPERS, type LIMITS } from '../../core/scene'
import type { Along } from '../../core/notation'
import { viewsOf, type Choices } from '../handOut'
import { carriedOf } from '../store/asking'
import { Check } from './Check'

interface Fields {
  readonly choices: Choices
  readonly put: (some: Partial<Choices>) => void
}

export function PixelFields({ choices, put }: Fields) {
  return (
    <>
      <Row label="Size">
        <Chosen
          label="Size"
          value={choices.sized}
          list={[
            ['width', 'so many px wide'],
            ['megapixels', 'about so many megapixels'],
            ['paper', 'a paper, to be printed'],
          ]}
          onChoose={(sized) =>
            put({ sized, ...(sized === 'paper' && choices.paper === 'none' ? { paper: 'A4' } : {}) })
          }
        />
      </Row>
      {choices.sized === 'width' && (
        <Row label="Width">
          <Numeral of="width" choices={choices} put={put} label="Width" /> px
        </Row>
      )}
      {choices.sized === 'megapixels' && (
        <Row label="Megapixels">
          <Numeral of="megapixels" choices={choices} put={put} label="Megapixels" />
        </Row>
      )}
      {choices.sized === 'paper' && (
        <>
          <PaperField choices={choices} put={put} />
          <Row label="Dots">
            <Numeral of="dpi" choices={choices} put={put} label="Dots per inch" /> per inch
          </Row>
        </>
      )}
    </>
  )
}

function PaperField({ choices, put, more = [] }: Fields & { more?: readonly (readonly [string, string])[] }) {
  const list = [...more, ...PAPERS.map((one) => [one, one] as const)]
  const known = list.some(([value]) => value === choices.paper)
  return (
    <Row label="Paper">
      <Chosen
        label="Paper"
        value={choices.paper}
        list={known ? list : [...list, [choices.paper, choices.paper]]}
        onChoose={(paper) => put({ paper, ...(paper === 'none' ? { cut: false } : {}) })}
      />
      {choices.paper !== 'none' && choices.paper !== 'Square' && (
        <span className="ml-3 inline-block">
          <Check checked={choices.across} onCheck={(across) => put({ across })}>
            across
          </Check>
        </span>
      )}
    </Row>
  )
}

export function DocumentFields({ view, choices, put }: Fields & { view: View }) {
  const isBare = choices.paper === 'none'
  return (
    <>
      <Row label="Of">
        <Chosen
          label="Of"
          value={choices.views}
          list={[
            ['this', 'this view'],
            ['chapter', 'all views of this chapter'],
            ['all', 'all views'],
          ]}
          onChoose={(views) => put({ views })}
        />
      </Row>
      <PaperField
        choices={choices}
        put={put}
        more={[['none', view.look['paper'] === undefined ? 'as large as the picture' : 'the paper of the view']]}
      />
      {!isBare && (
        <Row label="">
          <Chosen
            label="Sheets"
            value={choices.cut ? 'cut' : 'fitted'}
            list={[
              ['fitted', 'fitted on one sheet'],
              ['cut', 'on as many as it takes'],
            ]}
            onChoose={(sheets) => put({ cut: sheets === 'cut' })}
          />
        </Row>
      )}
      {!isBare && choices.cut && (
        <Row label="">
          at <Numeral of="scale" choices={choices} put={put} label="Scale" /> %, with{' '}
          <Numeral of="overlap" choices={choices} put={put} label="In common" /> mm in common
        </Row>
      )}
    </>
  )
}

/** Whether facts go along, and which: each by its name, before anything is saved. */
export function FactsField({ view, choices, put }: Fields & { view: View }) {
  const [along, setAlong] = useState<readonly Along[] | undefined>(undefined)
  const { facts, format, views } = choices
  useEffect(() => {
    if (!facts) return
    let isLeft = false
    setAlong(undefined)
    const shown = viewsOf(view, { format, views }).map(({ id }) => id)
    void carriedOf(shown).then((carried) => {
      if (!isLeft) setAlong(carried?.along)
    })
    return () => {
      isLeft = true
    }
  }, [view, facts, format, views])
  return (
    <>
      <Row label="Facts">
        <Check checked={facts} onCheck={(checked) => put({ facts: checked })}>
          those that it is drawn of go along
        </Check>
      </Row>
      {facts && (
        <div className="ml-[88px] text-[12px] text-quiet" data-testid="hand-out-facts">
          {along === undefined ? (
            <p>Looking what it is drawn of …</p>
          ) : (
            <ul className="mb-1 max-h-[141px] overflow-y-auto border-b border-hairline leading-[20px]">
              {along.map((one) => (
                <li key={one.word}>
                  <AlongOf along={one} />
                </li>
              ))}
            </ul>
          )}
          <p>
            Whoever has the file can read them and open it here again.{' '}
            <button type="button" className="verb" onClick={() => put({ facts: false })}>
              Without facts
            </button>
          </p>
        </div>
      )}
    </>
  )
}

/** Facts of a kind, and what is told of them; their names where somebody looks. */
function AlongOf({ along: { word, names, fields, bare } }: { along: Along }) {
  const told = fields.length > 0 ? ` with ${fields.join(', ')}` : ''
  const stubs =
    bare > 0
      ? `${names.length > 0 ? '; ' : ''}${bare.toLocaleString('en')} ${names.length > 0 ? 'more' : word} without a name`
      : ''
  if (names.length === 0) return <>{stubs}</>
  return (
    <details>
      <summary className="cursor-pointer">
        {names.length.toLocaleString('en')} {word}
        {told}
        {stubs}
      </summary>
      <p className="pl-3.5">{names.join(', ')}</p>
    </details>
  )
}

export const Row = ({ label, children }: { label: string; children: ReactNode }) => (
  <div className="mb-1.5 grid min-h-[24px] grid-cols-[88px_1fr] items-center">
    <span className="text-quiet">{label}</span>
    <span>{children}</span>
  </div>
)

export const Numeral = ({ of, choices, put, label }: Fields & { of: keyof typeof LIMITS; label: string }) => (
  <input
    aria-label={label}
    inputMode="decimal"
    className="numeric w-[64px] border-b border-hairline bg-transparent text-right outline-none focus:border-primary"
    value={choices[of]}
    onChange={(event) => put({ [of]: event.target.value.slice(0, 12) })}
  />
)

export function Chosen<T extends string>({
  label,
  value,
  list,
  onChoose,
}: {
  label: string
  value: T
  list: readonly (readonly [T, string])[]
  onChoose: (value: T) => void
}) {
  return (
    <select
      aria-label={label}
      className="h-[24px] max-w-full border-b border-hairline bg-base-100 outline-none focus:border-primary"
      value={value}
      onChange={(event) => onChoose(event.target.value as T)}
    >
      {list.map(([one, words]) => (
        <option key={one} value={one}>
          {words}
        </option>
      ))}
    </select>
  )
}

export function Radios<T extends string>({
  legend,
  name,
  value,
  list,
  onChoose,
}: {
  legend: string
  name: string
  value: T
  list: readonly (readonly [T, string])[]
  onChoose: (value: T) => void
}) {
  return (
    <fieldset className="mb-1 grid grid-cols-[88px_1fr] items-center">
      <legend className="sr-only">{legend}</legend>
      <span className="text-quiet">{legend}</span>
      <span className="grid grid-cols-5 gap-y-1.5 max-sm:grid-cols-3">
        {list.map(([one, words]) => (
          <label key={one} className="flex items-center gap-1.5">
            <input
              type="radio"
              className="radio radio-xs"
              name={name}
              checked={value === one}
              onChange={() => onChoose(one)}
            />
            {words}
          </label>
        ))}
      </span>
    </fieldset>
  )
}
