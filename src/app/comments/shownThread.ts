import { useEffect, useRef } from 'react'
import { useTalk } from './comments'

/** Of a thread: comes into view, and takes the keyboard, when it was asked for on the sheet. */
export function useShown(thread: string) {
  const place = useRef<HTMLLIElement>(null)
  const isShown = useTalk(({ shown }) => shown === thread)
  useEffect(() => {
    if (!isShown) return
    place.current?.scrollIntoView({ block: 'nearest' })
    place.current?.focus()
    // Whoever asks for it again is answered again.
    useTalk.setState({ shown: undefined })
  }, [isShown])
  return place
}
