import { useRef, useState } from 'react'
import type { Id } from '../../core/model'
import { isRefusal, type Done, type Picture } from '../../core/notation'
import { carryOut, errorsOf, notify, wish } from '../store'

/** What would come of dropping here. Until the core has looked for errors it is `looking`. */
export type Verdict =
  | { readonly sort: 'looking'; readonly words: string }
  | { readonly sort: 'yes'; readonly words: string }
  | { readonly sort: 'no'; readonly words: string }

export interface Drag {
  readonly items: readonly Id[]
  readonly x: number
  readonly y: number
  readonly target: Id | undefined
  readonly verdict: Verdict | undefined
}

/** Dragging items onto another one. The verdict comes while hovering; a drop that would add an error does nothing. */
export function useDrag(picture: Picture | undefined) {
  const [drag, setDrag] = useState<Drag>()
  const judged = useRef<{ target: Id; judgement: Promise<Done | string> } | undefined>(undefined)

  function judge(items: readonly Id[], target: Id): Verdict {
    const asked = wish({ selection: items, target })
    const outcome = asked && picture?.drop?.(asked)
    if (!outcome) return { sort: 'no', words: 'Nothing can be dropped here.' }
    if (isRefusal(outcome)) {
      judged.current = { target, judgement: Promise.resolve(outcome.refused) }
      return { sort: 'no', words: outcome.refused }
    }
    const judgement = errorsOf(outcome.change).then(([error]) => (error ? error.message : outcome))
    judged.current = { target, judgement }
    const words = outcome.change.label
    void judgement.then((result) =>
      setDrag((now) => {
        if (now?.target !== target) return now
        const verdict: Verdict = typeof result === 'string' ? { sort: 'no', words: result } : { sort: 'yes', words }
        return { ...now, verdict }
      }),
    )
    return { sort: 'looking', words }
  }

  return {
    drag,
    move(items: readonly Id[], x: number, y: number, over: Id | undefined): void {
      const target = over !== undefined && !items.includes(over) ? over : undefined
      setDrag((now) => {
        if (now && now.target === target) return { ...now, x, y }
        return { items, x, y, target, verdict: target === undefined ? undefined : judge(items, target) }
      })
    },
    async drop(): Promise<void> {
      const { target } = drag ?? {}
      setDrag(undefined)
      if (target === undefined || judged.current?.target !== target) return
      const result = await judged.current.judgement
      if (typeof result === 'string') notify(result, 'refusal')
      else carryOut(result)
    },
    cancel(): void {
      setDrag(undefined)
    },
  }
}
