import { useEffect, useState } from 'react'
import { useParts } from '../store/state'

const APPEARS_MS = 700

/** What is wrong with the connection, what is kept, and what happens next. A hiccup of less than a second is not worth a word. */
export function Banner() {
  const { trouble } = useParts('trouble')
  const present = trouble !== undefined
  const [late, setLate] = useState(false)
  useEffect(() => {
    const timer = setTimeout(() => setLate(present), present ? APPEARS_MS : 0)
    return () => clearTimeout(timer)
  }, [present])
  if (!trouble || !late) return null
  const { waiting, message } = trouble
  const kept =
    waiting === 0
      ? 'What is on the screen is saved. You can go on working.'
      : `${waiting === 1 ? 'One change is' : `${waiting} changes are`} kept in this browser and will be sent as soon as it answers. You can go on working.`
  return (
    <div
      role="alert"
      data-testid="banner"
      className="flex h-[32px] shrink-0 items-center gap-3 bg-error px-4 text-error-content"
    >
      <span aria-hidden>■</span>
      <span className="font-semibold">{message}</span>
      <span>{kept}</span>
    </div>
  )
}
