import { SIGHTS } from '../../core/scene'
import { useTheme } from '../sheet/ground'
import { currentView, useParts, useWorkspace } from '../store/state'
import { Dialog } from './Dialog'
import { Painted } from './Painted'
import { SIGHT_WORDS, sightFilter } from './sights'

const TILE = { width: 294, height: 198 } as const

/** The picture as it is, and beside it as others see it. */
export function ProofDesk() {
  const { scene } = useParts('scene')
  const view = useWorkspace(currentView)
  const theme = useTheme(view)
  if (!scene) return null
  return (
    <Dialog title="Proof" width={960} onClose={() => useWorkspace.setState({ dialog: undefined })}>
      <ul className="grid grid-cols-3 gap-4 narrow:grid-cols-1">
        {[undefined, ...SIGHTS].map((sight) => (
          <li key={sight ?? 'own'}>
            <span className="block overflow-hidden rounded-[3px] border border-hairline" data-sight={sight ?? 'own'}>
              <Painted scene={scene} theme={theme} {...TILE} {...(sight ? { filter: sightFilter(sight) } : {})} />
            </span>
            <span className="mt-1 block font-semibold">{sight ? SIGHT_WORDS[sight][0] : 'As it is'}</span>
            {sight && <span className="block text-[12px] text-quiet">{SIGHT_WORDS[sight][1]}</span>}
          </li>
        ))}
      </ul>
    </Dialog>
  )
}
