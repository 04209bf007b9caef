import { useEffect, useState } from 'react'
import { momentInWords } from '../clock'
import { Dialog } from '../shell/Dialog'
import { ApiError, ask } from '../sync/api'

interface Binned {
  readonly id: string
  readonly name: string
  readonly deletedAt: string
  readonly endsAt: string
}

const MS_A_DAY = 86_400_000

const daysLeft = ({ endsAt }: Binned): string => {
  const days = Math.max(0, Math.ceil((Date.parse(endsAt) - Date.now()) / MS_A_DAY))
  return days === 1 ? 'ends within a day' : `${days} days left`
}

/** Workspaces that were deleted within thirty days: taken back, or ended for good after a question. */
export function Bin({
  onClose,
  onBack,
}: {
  onClose: () => void
  onBack: (workspace: Pick<Binned, 'id' | 'name'>) => void
}) {
  const [list, setList] = useState<readonly Binned[] | undefined>(undefined)
  const [trouble, setTrouble] = useState<string | undefined>(undefined)
  const [ending, setEnding] = useState<Binned | undefined>(undefined)
  const [attempt, setAttempt] = useState(0)
  useEffect(() => {
    ask<{ workspaces: Binned[] }>('/api/bin').then(
      ({ workspaces }) => setList(workspaces),
      (error: unknown) => setTrouble(error instanceof ApiError ? error.message : String(error)),
    )
  }, [attempt])
  const end = async ({ id }: Binned) => {
    setEnding(undefined)
    try {
      await ask(`/api/bin/${id}`, { method: 'DELETE' })
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      setTrouble(error.message)
    }
    setAttempt((count) => count + 1)
  }
  return (
    <Dialog title="Bin" width={520} onClose={onClose}>
      {trouble && (
        <p role="alert" className="mb-2 text-error">
          ■ {trouble}
        </p>
      )}
      {!list && !trouble && <p className="text-quiet">Reading …</p>}
      {list?.length === 0 && <p className="text-quiet">Nothing was deleted within the last 30 days.</p>}
      <ul className="max-h-[360px] overflow-y-auto">
        {list?.map((one) => (
          <li key={one.id} className="flex items-baseline gap-4 border-b border-hairline py-2">
            <span className="min-w-0 flex-1">
              <span className="block truncate font-semibold">{one.name}</span>
              <span className="text-quiet">
                Deleted {momentInWords(one.deletedAt)}, {daysLeft(one)}
              </span>
            </span>
            <button
              type="button"
              className="verb"
              onClick={() => {
                onBack(one)
                onClose()
              }}
            >
              Take it back
            </button>
            <button type="button" className="verb" onClick={() => setEnding(one)}>
              End it
            </button>
          </li>
        ))}
      </ul>
      {ending && (
        <Dialog title={`End “${ending.name}” for good?`} onClose={() => setEnding(undefined)}>
          <p className="mb-4">All its facts, views and history go. This cannot be taken back.</p>
          <div className="flex items-center gap-4">
            <button type="button" className="btn btn-error btn-sm" onClick={() => void end(ending)}>
              End it for good
            </button>
            <button type="button" className="verb" onClick={() => setEnding(undefined)}>
              Leave it in the bin
            </button>
          </div>
        </Dialog>
      )}
    </Dialog>
  )
}
