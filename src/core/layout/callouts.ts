import { nth } from '../graph'

/** A text beside a point on a line, with its size; `side` is set where somebody chose one, and `least` how far out it stands at least. */
export interface Callout {
  readonly x: number
  readonly width: number
  readonly height: number
  readonly side?: 'above' | 'below' | undefined
  readonly least?: number | undefined
}

export interface CalloutPlace {
  readonly side: 'above' | 'below'
  /** From the line to the near edge of the text. */
  readonly out: number
}

const GAP = { across: 10, out: 6 } as const

/**
 * Places for callouts on both sides of a line, so that no text meets another and no stem runs through a text. Each text begins at its stem.
 * From the last point to the first: a text then only has to stand further out than those it would meet, whose stems begin to the right of
 * its own. O(callouts²) in a cluster in which all meet, O(callouts · log callouts) where few do.
 */
export function placeCallouts(callouts: readonly Callout[], base: number): CalloutPlace[] {
  const order = callouts.map((_, i) => i).sort((a, b) => nth(callouts, b).x - nth(callouts, a).x || b - a)
  const places = new Array<CalloutPlace>(callouts.length)
  const placed: Record<'above' | 'below', { x: number; top: number }[]> = { above: [], below: [] }
  for (const i of order) {
    const one = nth(callouts, i)
    const outOn = (side: 'above' | 'below'): number => {
      let out = Math.max(base, one.least ?? 0)
      // Those to the right are held nearest first: beyond this text's own width nothing can meet it.
      const list = placed[side]
      for (let k = list.length - 1; k >= 0; k--) {
        const other = list[k]
        if (!other || other.x >= one.x + one.width + GAP.across) break
        out = Math.max(out, other.top + GAP.out)
      }
      return out
    }
    const side = one.side ?? (outOn('above') <= outOn('below') ? 'above' : 'below')
    const out = outOn(side)
    places[i] = { side, out }
    placed[side].push({ x: one.x, top: out + one.height })
  }
  return places
}
