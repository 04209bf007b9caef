import type { Entity } from '../../../model'
import type { Mark } from '../../../scene'

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
    { tag: 'rect', attrs: { x, y, width: size, height: size, rx: 3, fill: 'wash', stroke: 'none' } },
    {
      tag: 'text',
      attrs: {
        x: x + size / 2,
        y: y + size / 2 + size * 0.13,
        fill: 'ink-quiet',
        'font-family': 'text',
        'font-size': Math.round(size * 0.38),
        'text-anchor': 'middle',
      },
      children: [initials || '–'],
    },
  ]
  if (photo !== undefined) marks.push({ tag: 'image', attrs: { x, y, width: size, height: size, href: photo } })
  return marks
}
