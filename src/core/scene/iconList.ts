import svgpath from 'svgpath'
import nodes from 'lucide-static/icon-nodes.json' with { type: 'json' }
import tags from 'lucide-static/tags.json' with { type: 'json' }

/** A set of icons, each drawn by lines on 24 by 24. */
export interface Icons {
  /** Path data of an icon by its name; undefined for one that there is not. */
  readonly data: (name: string) => string | undefined
  readonly list: readonly { readonly name: string; readonly words: string }[]
}

type Shape = readonly [tag: string, attrs: Readonly<Record<string, string>>]

/** One shape of an icon as path data; what is drawn by none of the usual shapes is left out. */
function dataOf([tag, attrs]: Shape): string {
  const number = (name: string): number => Number(attrs[name] ?? 0)
  switch (tag) {
    case 'path':
      // Put after another, it may not begin from where that ends.
      return svgpath(attrs['d'] ?? '')
        .abs()
        .toString()
    case 'line':
      return `M${number('x1')} ${number('y1')}L${number('x2')} ${number('y2')}`
    case 'circle':
    case 'ellipse': {
      const [x, y] = [number('cx'), number('cy')]
      const [rx, ry] = tag === 'circle' ? [number('r'), number('r')] : [number('rx'), number('ry')]
      return `M${x - rx} ${y}a${rx} ${ry} 0 1 0 ${2 * rx} 0a${rx} ${ry} 0 1 0 ${-2 * rx} 0Z`
    }
    case 'rect': {
      const [x, y, width, height] = [number('x'), number('y'), number('width'), number('height')]
      const r = Math.min(number('rx'), width / 2, height / 2)
      const corner = (dx: number, dy: number) => (r > 0 ? `a${r} ${r} 0 0 1 ${dx} ${dy}` : '')
      return `M${x + r} ${y}h${width - 2 * r}${corner(r, r)}v${height - 2 * r}${corner(-r, r)}h${2 * r - width}${corner(-r, -r)}v${2 * r - height}${corner(r, -r)}Z`
    }
    case 'polyline':
    case 'polygon': {
      const points = (attrs['points'] ?? '').trim().split(/[\s,]+/)
      const pairs = points.flatMap((x, at) => (at % 2 === 0 ? [`${x} ${points[at + 1] ?? 0}`] : []))
      return `M${pairs.join('L')}${tag === 'polygon' ? 'Z' : ''}`
    }
    default:
      return ''
  }
}

const known = nodes as unknown as Readonly<Record<string, readonly Shape[]>>
const words = tags as Readonly<Record<string, readonly string[]>>

/** The icons that are shipped, with the words by which each is found: large, so that they are only loaded where one is drawn or looked for. */
export const shippedIcons: Icons = {
  data: (name) => (Object.hasOwn(known, name) ? known[name]?.map(dataOf).join('') : undefined),
  list: Object.keys(known).map((name) => ({ name, words: (words[name] ?? []).join(' ') })),
}
