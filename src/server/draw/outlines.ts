import svgpath from 'svgpath'
import { captionMark, captionRoom, cutOf, kit, textWidth, type Mark, type Scene } from '../../core/scene'
import { fontOf, isForeign, layoutOf, runsOf } from './fonts'

type TextMark = Extract<Mark, { tag: 'text' }>

/** A scene with its caption whose letters are paths: it looks the same wherever it is opened, and nobody can copy its words. O(letters) */
export const outlined = (scene: Scene, caption: string | undefined): Scene => inPaths(scene, caption, () => true)

/** A scene with its caption, where the letters that the family of the program lacks are paths: not everything that draws a text sets other scripts well. O(letters) */
export const foreignOutlined = (scene: Scene, caption: string | undefined): Scene => inPaths(scene, caption, isForeign)

function inPaths(scene: Scene, caption: string | undefined, isWanted: (mark: TextMark) => boolean): Scene {
  const room = captionRoom(scene, caption)
  const said = caption ? [captionMark(scene, caption)] : []
  const all = (marks: readonly Mark[]) => marks.flatMap((mark) => outlineOf(mark, isWanted))
  const { frozen } = scene
  return {
    ...scene,
    bounds: { ...scene.bounds, height: scene.bounds.height + room },
    backdrop: all([...scene.backdrop, ...said]),
    items: scene.items.map((item) => ({ ...item, marks: all(item.marks) })),
    links: scene.links.map((link) => ({ ...link, marks: all(link.marks) })),
    ...(frozen
      ? {
          frozen: {
            ...frozen,
            ...(frozen.top ? { top: all(frozen.top) } : {}),
            ...(frozen.left ? { left: all(frozen.left) } : {}),
            ...(frozen.corner ? { corner: all(frozen.corner) } : {}),
          },
        }
      : {}),
  }
}

export function outlineOf(mark: Mark, isWanted: (mark: TextMark) => boolean = () => true): readonly Mark[] {
  if (mark.tag === 'g') return [{ ...mark, children: mark.children.flatMap((one) => outlineOf(one, isWanted)) }]
  if (mark.tag !== 'text' || !isWanted(mark)) return [mark]
  const { x, y, fill, opacity, transform, 'font-size': size, 'text-anchor': anchor = 'start' } = mark.attrs
  const runs = runsOf(mark).map((set) => {
    const font = fontOf(set.font)
    const run = layoutOf(set)
    return { run, scale: size / font.unitsPerEm, width: (run.advanceWidth * size) / font.unitsPerEm }
  })
  const whole = runs.reduce((sum, { width }) => sum + width, 0)
  let left = anchor === 'start' ? x : anchor === 'middle' ? x - whole / 2 : x - whole
  const parts: string[] = []
  for (const { run, scale } of runs)
    run.glyphs.forEach((glyph, at) => {
      const place = run.positions[at]
      const d = glyph.path.toSVG()
      if (d !== '')
        parts.push(
          svgpath(d)
            .scale(scale, -scale)
            .translate(left + (place?.xOffset ?? 0) * scale, y - (place?.yOffset ?? 0) * scale)
            .round(2)
            .toString(),
        )
      left += (place?.xAdvance ?? glyph.advanceWidth) * scale
    })
  const [degrees, cx = 0, cy = 0] = (transform?.match(/-?\d+(?:\.\d+)?/g) ?? []).map(Number)
  const d = degrees === undefined ? parts.join('') : svgpath(parts.join('')).rotate(degrees, cx, cy).round(2).toString()
  const paint = { fill, ...(opacity === undefined ? {} : { opacity }) }
  const struck =
    mark.attrs['text-decoration'] === 'line-through'
      ? [
          kit.rect(
            {
              x: mark.attrs.x,
              y: y - size * 0.28,
              width: textWidth(mark.children[0], size, cutOf(mark)),
              height: Math.max(1, size / 14),
            },
            paint,
          ),
        ]
      : []
  return [...(d === '' ? [] : [kit.path(d, paint)]), ...struck]
}
