import type { ReactNode } from 'react'

/** That something is going on, in words. */
export const Waiting = ({ words, children }: { words: string; children?: ReactNode }) => (
  <p role="status" className="flex items-center gap-3 text-quiet">
    {words} … <progress className="progress progress-primary w-[120px]" /> {children}
  </p>
)
