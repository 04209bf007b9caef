import { useEffect, useState } from 'react'

/** How long it has been drawn, so that one knows that it still is. */
export function Drawing({ since }: { since: number }) {
  const [now, setNow] = useState(since)
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 500)
    return () => clearInterval(timer)
  }, [])
  const seconds = Math.floor((now - since) / 1000)
  return <>{seconds < 1 ? 'Drawing …' : `Drawing … ${seconds} s`}</>
}
