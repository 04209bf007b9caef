import type { ReactNode } from 'react'

/** Something that is or is not so, with its words beside it. */
export const Check = ({
  checked,
  onCheck,
  children,
}: {
  checked: boolean
  onCheck: (on: boolean) => void
  children: ReactNode
}) => (
  <label className="flex items-center gap-1.5">
    <input
      type="checkbox"
      className="checkbox checkbox-xs"
      checked={checked}
      onChange={(event) => onCheck(event.target.checked)}
    />
    {children}
  </label>
)
