import type { Entity } from '../../../model'
import { kit, type Mark } from '../../../scene'

/** What a person looks like on a card: a photo as the name of an asset, and initials where there is none. */
export interface Face {
  readonly photo: string | undefined
  readonly initials: string
}

/** A person's photo, or the initials that stand for it. */
export function faceOf(person: Entity | undefined): Face {
  const photo = person?.fields['photo']
  const words = (person?.name ?? '').split(/\s+/).filter(Boolean)
  const initials = [words[0], words.length > 1 ? words.at(-1) : undefined].map((word) => [...(word ?? '')][0] ?? '')
  return { photo: typeof photo === 'string' ? photo : undefined, initials: initials.join('').toUpperCase() }
}

/** A square with a photo, or with initials where there is none or it cannot be shown. */
export function faceMarks({ photo, initials }: Face, x: number, y: number, size: number): Mark[] {
  const marks: Mark[] = [
    kit.rect({ x, y, width: size, height: size }, { rx: 3, fill: 'wash', stroke: 'none' }),
    kit.text(x + size / 2, y + size / 2 + size * 0.13, initials || '–', {
      fill: 'ink-quiet',
      'font-size': Math.round(size * 0.38),
      'text-anchor': 'middle',
    }),
  ]
  if (photo !== undefined) marks.push(kit.image({ x: x, y: y, width: size, height: size }, photo))
  return marks
}
