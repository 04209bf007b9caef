import { useWorkspace } from '../store/state'

/** Why there is no picture: the facts are all there, in the outline and the registers. */
export function FailedSheet() {
  const failure = useWorkspace((state) => state.failure)
  if (failure === undefined) return null
  return (
    <div role="alert" className="absolute inset-0 z-10 grid place-items-center">
      <div className="max-w-[380px] text-center">
        <p className="text-[15px] font-semibold">■ This picture could not be drawn.</p>
        <p className="mt-1 text-[var(--sheet-quiet)]">
          {failure}. The facts are safe: the outline and the registers below hold all of them, and other views are drawn
          as before.
        </p>
      </div>
    </div>
  )
}
