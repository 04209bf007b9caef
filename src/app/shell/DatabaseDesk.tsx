import { useState, type FormEvent } from 'react'
import { carryOut } from '../store/changes'
import { readWholeFile } from '../store/readings'
import { useWorkspace } from '../store/state'
import { ApiError, ask } from '../sync/api'
import { Dialog } from './Dialog'
import { Waiting } from './Waiting'

const close = () => useWorkspace.setState({ dialog: undefined })

interface Address {
  readonly host: string
  readonly port: number
  readonly user: string
  readonly password: string
  readonly database: string
}
type Typed = Readonly<Record<keyof Address, string>>

const EMPTY: Typed = { host: '127.0.0.1', port: '3306', database: '', user: '', password: '' }
const FIELDS: readonly { readonly id: keyof Address; readonly label: string; readonly width: string }[] = [
  { id: 'host', label: 'Host', width: 'col-span-4' },
  { id: 'port', label: 'Port', width: 'col-span-2' },
  { id: 'database', label: 'Database', width: 'col-span-6' },
  { id: 'user', label: 'User', width: 'col-span-3' },
  { id: 'password', label: 'Password', width: 'col-span-3' },
]

/** Where a database is: its tables are read, and what they would bring is shown before it is brought. Nothing typed here is kept. */
export function DatabaseDesk() {
  const [typed, setTyped] = useState(EMPTY)
  const [fault, setFault] = useState<string | undefined>(undefined)
  const [waiting, setWaiting] = useState<string | undefined>(undefined)
  const { day, model } = useWorkspace.getState()
  const fill = async () => {
    setFault(undefined)
    try {
      const { port, ...others } = await ask<Address>('/standins/database/address', { method: 'POST', body: { day } })
      setTyped({ ...others, port: String(port) })
    } catch (error) {
      setFault(wordsFor(error))
    }
  }
  const read = async () => {
    setFault(undefined)
    setWaiting(`Reading “${typed.database}”`)
    try {
      const told = await ask<object>('/api/databases/tables', {
        method: 'POST',
        body: { ...typed, port: Number(typed.port) },
      })
      const found = await readWholeFile('database', new File([JSON.stringify(told)], typed.database)).result
      if (!isOpen()) return
      if ('refused' in found) return setFault(found.refused)
      close()
      carryOut({ change: found.change, spreads: found.facts })
    } catch (error) {
      setFault(wordsFor(error))
    } finally {
      setWaiting(undefined)
    }
  }
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (waiting === undefined) void read()
  }
  const isComplete = typed.host !== '' && /^\d{1,5}$/.test(typed.port) && typed.database !== '' && typed.user !== ''
  return (
    <Dialog title="Read a database" width={520} onClose={close}>
      <form onSubmit={submit} autoComplete="off">
        <p className="mb-3 text-quiet">
          The tables of a MariaDB are kept beside the classes of “{model.name}”, and whatever the two say differently is
          found. Only its description of itself is read, and nothing that is typed here is kept.
        </p>
        <div className="grid grid-cols-6 gap-x-4 gap-y-2">
          {FIELDS.map(({ id, label, width }) => (
            <label key={id} className={`${width} block`}>
              <span className="block text-quiet">{label}</span>
              <input
                data-first={id === 'database' ? true : undefined}
                type={id === 'password' ? 'password' : 'text'}
                inputMode={id === 'port' ? 'numeric' : undefined}
                autoComplete="off"
                spellCheck={false}
                maxLength={256}
                className="numeric h-[28px] w-full border-b border-hairline bg-transparent outline-none focus:border-primary"
                value={typed[id]}
                onChange={(event) => setTyped({ ...typed, [id]: event.target.value })}
              />
            </label>
          ))}
        </div>
        {fault && (
          <p role="alert" className="mt-3 text-error">
            ■ {fault}
          </p>
        )}
        <div className="mt-4 flex items-center gap-4">
          <button type="submit" className="btn btn-primary btn-sm" disabled={!isComplete || waiting !== undefined}>
            Read its tables
          </button>
          <button type="button" className="verb" onClick={() => void fill()}>
            Try the made-up one that ships with this
          </button>
        </div>
        {waiting !== undefined && (
          <div className="mt-3">
            <Waiting words={waiting} />
          </div>
        )}
      </form>
    </Dialog>
  )
}

/** Whoever has closed it meanwhile wants nothing more of it. */
const isOpen = (): boolean => useWorkspace.getState().dialog === 'database'

const wordsFor = (error: unknown): string => (error instanceof ApiError ? error.message : String(error))
