import type { View } from '../../core/model'
import { useOffer } from '../offers'
import { AddressList } from './AddressList'
import { useAddresses } from './useAddresses'

/** Secret addresses at which other programs subscribe to a view: made, copied once, withdrawn. */
export function Feeds({ workspace, view }: { workspace: string; view: View }) {
  const formats = useOffer().exports.filter(({ feed }) => feed)
  const any = formats.length > 0
  const place = {
    path: `/api/workspaces/${workspace}/shares`,
    query: `?view=${encodeURIComponent(view.id)}`,
    many: 'shares',
    one: 'share',
  }
  const { add, ...addresses } = useAddresses(place, any)
  if (!any) return null
  return (
    <section aria-label="Subscribe" className="mt-4 border-t border-hairline pt-3">
      {formats.map(({ id, feed, title }) => (
        <div key={id} className="flex items-baseline gap-3">
          <h3 className="font-semibold">{feed} to subscribe to</h3>
          <span className="text-quiet">{title}</span>
          <button
            type="button"
            className="verb ml-auto"
            disabled={addresses.busy}
            onClick={() => add({ view: view.id, format: id })}
          >
            Make an address
          </button>
        </div>
      ))}
      <p className="mt-1 text-quiet">
        Other programs read this view there, always as it then is. Whoever has the address can read it, until it is
        withdrawn.
      </p>
      <AddressList {...addresses} />
    </section>
  )
}
