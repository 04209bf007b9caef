import { useLayoutEffect, useRef, type ReactNode } from 'react'
import { focusLeft, returnFocus } from './focus'

/**
 * A window over the page, closed by Escape or a click beside it. What is marked `data-first` has the focus at first; where the window comes by itself its title has,
 * so that a key on its way to somewhere else is no answer.
 */
export function Dialog({
  title,
  onClose,
  children,
  width = 420,
  isUnasked = false,
}: {
  title: string
  /** Absent where the question needs an answer. */
  onClose?: () => void
  children: ReactNode
  width?: number
  isUnasked?: boolean
}) {
  const dialog = useRef<HTMLDialogElement>(null)
  // Before it is taken off the page: what had the focus has it again.
  useLayoutEffect(() => {
    const element = dialog.current
    const before = focusLeft()
    element?.showModal()
    element?.querySelector<HTMLElement>(isUnasked ? 'h2' : '[data-first]')?.focus()
    return () => {
      element?.close()
      returnFocus(before)
    }
  }, [isUnasked])
  return (
    <dialog
      ref={dialog}
      aria-label={title}
      className="m-auto rounded-[3px] border border-hairline bg-base-100 p-0 outline-none text-base-content backdrop:bg-[#1c2530]/25"
      style={{ width, maxWidth: 'calc(100vw - 32px)' }}
      onCancel={(event) => {
        event.preventDefault()
        onClose?.()
      }}
      onClick={(event) => {
        if (event.target === dialog.current) onClose?.()
      }}
      onKeyDown={(event) => event.stopPropagation()}
    >
      <div className="p-5 narrow:p-4">
        <h2 tabIndex={isUnasked ? -1 : undefined} className="mb-3 text-[15px] font-semibold outline-none">
          {title}
        </h2>
        {children}
      </div>
    </dialog>
  )
}
