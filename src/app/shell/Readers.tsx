import { useState } from 'react'
import { viewsInOrder } from '../../core/file'
import { dayInWords, isDay, type View } from '../../core/model'
import { copyText } from '../clipboard'
import { useParts } from '../store/state'
import { chaptersOf } from '../views'
import { AddressList } from './AddressList'
import { Check } from './Check'
import { useAddresses, type Address } from './useAddresses'

interface Reader extends Address {
  readonly reach: 'view' | 'chapter' | 'workspace'
  readonly of: string
  readonly day: string | null
  readonly until: string | null
  readonly findings: boolean
  readonly comments: boolean
}

/** Secret addresses at which people read a view, a chapter or all of it, and change nothing. */
export function Readers({ workspace, view }: { workspace: string; view: View }) {
  const { model, day } = useParts('model', 'day')
  const [reach, setReach] = useState<Reader['reach']>('view')
  const [isFixed, setFixed] = useState(false)
  const [until, setUntil] = useState('')
  const [findings, setFindings] = useState(false)
  const [comments, setComments] = useState(false)
  const place = { path: `/api/workspaces/${workspace}/readers`, many: 'readers', one: 'reader' }
  const { add, alter, ...addresses } = useAddresses<Reader>(place)
  const isDated = until === '' || isDay(until)
  const make = () =>
    add({
      reach,
      of: reach === 'view' ? view.id : view.notation,
      ...(isFixed ? { day } : {}),
      ...(until === '' ? {} : { until }),
      findings,
      comments,
    })
  const words = ({ reach: of, of: id, day: fixed, until: last }: Reader): string => {
    const title =
      of === 'workspace'
        ? 'All views'
        : of === 'view'
          ? `“${model.views.get(id as View['id'])?.title ?? 'a view that is gone'}”`
          : `All of ${chaptersOf(viewsInOrder(model)).find(({ notation }) => notation.id === id)?.notation.chapter ?? id}`
    return [title, ...(fixed === null ? [] : [`as of ${fixed}`]), ...(last === null ? [] : [`until ${last}`])].join(
      ', ',
    )
  }
  return (
    <section aria-label="Pages to read" className="mt-4 border-t border-hairline pt-3">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1.5">
        <h3 className="font-semibold">A page to read</h3>
        <select
          aria-label="What is read"
          className="h-[24px] border-b border-hairline bg-base-100 outline-none focus:border-primary"
          value={reach}
          onChange={({ target }) => setReach(target.value as Reader['reach'])}
        >
          <option value="view">this view</option>
          <option value="chapter">this chapter</option>
          <option value="workspace">all views</option>
        </select>
        <Check checked={isFixed} onCheck={setFixed}>
          always as of {dayInWords(day)}
        </Check>
        <Check checked={findings} onCheck={setFindings}>
          with findings
        </Check>
        <Check checked={comments} onCheck={setComments}>
          with comments
        </Check>
        <label className="text-quiet">
          until{' '}
          <input
            aria-label="Until"
            placeholder="withdrawn"
            className="numeric w-[92px] border-b border-hairline bg-transparent outline-none focus:border-primary aria-invalid:border-error"
            aria-invalid={!isDated}
            value={until}
            onChange={({ target }) => setUntil(target.value.trim())}
          />
        </label>
        <button type="button" className="verb ml-auto" disabled={addresses.busy || !isDated} onClick={make}>
          Make a page
        </button>
      </div>
      <p className="mt-1 text-quiet">
        Whoever has the address can read it, on a telephone and in a frame too, and change nothing
        {comments && '; what they say there by their name comes to your margin'}.
      </p>
      <AddressList
        {...addresses}
        words={words}
        verbs={({ id, comments: may }) => (
          <button
            type="button"
            className="verb"
            disabled={addresses.busy}
            onClick={() => alter(id, { comments: !may })}
          >
            {may ? 'No more comments' : 'Let them comment'}
          </button>
        )}
        more={(address) => (
          <button
            type="button"
            className="verb"
            onClick={() =>
              void copyText(
                `<iframe src="${address}" title="${view.title.replace(/[&"<>]/g, ' ')}" width="100%" height="600" style="border:1px solid #d8d4c9"></iframe>`,
                'The frame is copied: it stands in any page of HTML.',
              )
            }
          >
            Copy as a frame
          </button>
        )}
      />
    </section>
  )
}
