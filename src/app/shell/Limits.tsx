import { Limit } from '../margin/Limit'
import { useParts, useWorkspace } from '../store/state'
import { Dialog } from './Dialog'

/** From where on each rule speaks up in this workspace. */
export function Limits() {
  const { offers } = useParts('offers')
  const limited = Object.values(offers?.rules ?? {}).filter(({ threshold }) => threshold)
  return (
    <Dialog title="Limits of the rules" onClose={() => useWorkspace.setState({ dialog: undefined })}>
      <ul className="space-y-2">
        {limited.map((rule) => (
          <li key={rule.id}>
            <Limit rule={rule} />
            <p className="text-[12px] leading-4 text-quiet">
              {rule.title}, usually {rule.threshold?.initial}
            </p>
          </li>
        ))}
      </ul>
    </Dialog>
  )
}
