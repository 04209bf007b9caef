import { textWidth, type Box, type Mark, type Scene } from '../src/core/scene'

/** A text of a picture, with the room that it takes and what it belongs to. */
export interface TextBox extends Box {
  readonly text: string
  readonly of: string
}

/** All level texts of items and links. */
export function textBoxes({ items, links }: Scene): readonly TextBox[] {
  const found: TextBox[] = []
  const look = (mark: Mark, dx: number, dy: number, of: string): void => {
    if (mark.tag === 'g') mark.children.forEach((child) => look(child, dx, dy, of))
    if (mark.tag !== 'text' || mark.children[0] === '' || mark.attrs.transform !== undefined) return
    const { x, y, 'font-size': size, 'font-weight': weight = 400, 'text-anchor': anchor = 'start' } = mark.attrs
    const width = textWidth(mark.children[0], size, weight >= 600 ? 'text700' : 'text400')
    const left = dx + x - (anchor === 'middle' ? width / 2 : anchor === 'end' ? width : 0)
    // From the height of capitals to beneath the line.
    found.push({ text: mark.children[0], of, x: left, y: dy + y - size * 0.74, width, height: size * 0.95 })
  }
  for (const { id, box, marks } of items) for (const mark of marks) look(mark, box.x, box.y, id)
  for (const { id, marks } of links) for (const mark of marks) look(mark, 0, 0, id)
  return found
}

export const isMeeting = (a: Box, b: Box): boolean =>
  a.x + 1 < b.x + b.width && b.x + 1 < a.x + a.width && a.y + 1 < b.y + b.height && b.y + 1 < a.y + a.height
