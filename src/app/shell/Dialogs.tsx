import { useEffect, useState, type ComponentType } from 'react'
import { wordsOf } from '../../core/model'
import { notify, useParts, useWorkspace } from '../store/state'
import { GoTo } from './GoTo'
import { Keys } from './Keys'

// The larger ones: the first picture does not wait for them.
const LATER = {
  'new-view': () => import('./NewView').then(({ NewView }) => NewView),
  'hand-out': () => import('./HandOut').then(({ HandOut }) => HandOut),
  'brought-back': () => import('./BroughtBack').then(({ BroughtBack }) => BroughtBack),
  history: () => import('./History').then(({ History }) => History),
  'bring-in': () => import('./ImportDesk').then(({ ImportDesk }) => ImportDesk),
  directory: () => import('./ImportDesk').then(({ DirectoryDesk }) => DirectoryDesk),
  database: () => import('./DatabaseDesk').then(({ DatabaseDesk }) => DatabaseDesk),
  themes: () => import('./ThemeDesk').then(({ ThemeDesk }) => ThemeDesk),
  proof: () => import('./ProofDesk').then(({ ProofDesk }) => ProofDesk),
  limits: () => import('./Limits').then(({ Limits }) => Limits),
}
type Later = keyof typeof LATER

const fetched = new Map<Later, ComponentType>()

async function fetchDialog(dialog: Later): Promise<void> {
  if (!fetched.has(dialog)) fetched.set(dialog, await LATER[dialog]())
}

/** The dialog that is open, if one is. */
export function Dialogs() {
  const { dialog } = useParts('dialog')
  useFetching()
  if (dialog === undefined) return null
  if (dialog === 'go-to') return <GoTo />
  if (dialog === 'keys') return <Keys />
  return <LaterDialog key={dialog} dialog={dialog} />
}

/** There at once where it has been fetched, so that nothing typed after its key is lost. */
function LaterDialog({ dialog }: { dialog: Later }) {
  const [, setArrived] = useState(false)
  const Fetched = fetched.get(dialog)
  useEffect(() => {
    fetchDialog(dialog).then(
      () => setArrived(true),
      (error: unknown) => {
        useWorkspace.setState({ dialog: undefined })
        notify(`This could not be opened: ${wordsOf(error)}. Try again.`, 'refusal')
      },
    )
  }, [dialog])
  return Fetched ? <Fetched /> : null
}

/** Once the picture is there, all dialogs are fetched, so that they open without a server too. */
function useFetching(): void {
  const drawn = useWorkspace(({ scene, failure }) => scene !== undefined || failure !== undefined)
  useEffect(() => {
    // One that does not come now is fetched again when it is opened, and said then.
    if (drawn) for (const dialog of Object.keys(LATER) as Later[]) fetchDialog(dialog).catch(() => undefined)
  }, [drawn])
}
