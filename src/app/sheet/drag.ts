import { useRef, useState } from 'react'
import type { Id } from '../../core/model'
import { isRefusal, type Done, type Gestures } from '../../core/notation'
import { errorsOf } from '../store/asking'
import { carryOut, wish } from '../store/changes'
import { notify } from '../store/state'

/** What would come of dropping here. Until the core has looked for errors it is `looking`. */
export type Verdict =
  | { readonly sort: 'looking'; readonly words: string }
  | { readonly sort: 'yes'; readonly words: string; readonly along?: readonly string[] }
  | { readonly sort: 'no'; readonly words: string }

interface Drag {
  readonly items: readonly Id[]
  readonly x: number
  readonly y: number
  readonly target: Id | undefined
  readonly verdict: Verdict | undefined
  /** Only the item itself is meant, without what hangs on it. */
  readonly alone: boolean
}

/** Dragging items onto another one. The verdict comes while hovering; a drop that would add an error does nothing. */
export function useDrag(picture: Gestures | undefined) {
  const [drag, setDrag] = useState<Drag>()
  const judged = useRef<{ target: Id; alone: boolean; judgement: Promise<Done | string> } | undefined>(undefined)

  function judge(items: readonly Id[], target: Id, alone: boolean): Verdict {
    const asked = wish({ selection: items, target, alone })
    const outcome = asked && picture?.drop?.(asked)
    if (!outcome) return { sort: 'no', words: 'Nothing can be dropped here.' }
    if (isRefusal(outcome)) {
      judged.current = { target, alone, judgement: Promise.resolve(outcome.refused) }
      return { sort: 'no', words: outcome.refused }
    }
    const judgement = errorsOf(outcome.change).then(([error]) => (error ? error.message : outcome))
    judged.current = { target, alone, judgement }
    const words = outcome.change.label
    void judgement.then((result) =>
      setDrag((now) => {
        if (now?.target !== target || now.alone !== alone) return now
        const { along } = outcome
        const verdict: Verdict =
          typeof result === 'string'
            ? { sort: 'no', words: result }
            : { sort: 'yes', words, ...(along ? { along } : {}) }
        return { ...now, verdict }
      }),
    )
    return { sort: 'looking', words }
  }

  return {
    drag,
    move(items: readonly Id[], x: number, y: number, over: Id | undefined, alone: boolean): void {
      const target = over !== undefined && !items.includes(over) ? over : undefined
      setDrag((now) => {
        if (now && now.target === target && now.alone === alone) return { ...now, x, y }
        return { items, x, y, target, alone, verdict: target === undefined ? undefined : judge(items, target, alone) }
      })
    },
    async drop(): Promise<void> {
      const { target, alone } = drag ?? {}
      setDrag(undefined)
      if (target === undefined || judged.current?.target !== target || judged.current.alone !== alone) return
      const result = await judged.current.judgement
      if (typeof result === 'string') notify(result, 'refusal')
      else carryOut(result)
    },
    cancel(): void {
      setDrag(undefined)
    },
  }
}
