import { useEffect, useRef } from 'react'
import { useTalk } from './comments'

/** Of a thread: comes into view, and takes the keyboard, each time it is asked for on the sheet. */
export function useShown(thread: string) {
  const place = useRef<HTMLLIElement>(null)
  const asked = useTalk(({ shown }) => (shown?.thread === thread ? shown : undefined))
  useEffect(() => {
    if (!asked) return
    place.current?.scrollIntoView({ block: 'nearest' })
    place.current?.focus()
  }, [asked])
  return place
}
