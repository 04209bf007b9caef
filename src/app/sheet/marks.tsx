import { createContext, createElement, memo, useContext, type ReactNode } from 'react'
import { CROPPED, painted, wholeOf, type Layer, type Mark, type Theme } from '../../core/scene'
import { noteLetters } from '../square'

const reactNames = new Map<string, string>()

/** `stroke-width` is `strokeWidth` to React. */
function reactName(name: string): string {
  const known = reactNames.get(name) ?? name.replace(/-([a-z])/g, (_, letter: string) => letter.toUpperCase())
  reactNames.set(name, known)
  return known
}

type Address = (asset: string) => string | undefined

/** Where the pictures of assets are. Where there are none, as in a preview, what stands beneath an image shows. */
export const Assets = createContext<Address>(() => undefined)

function element(mark: Mark, theme: Theme, address: Address, key: number): ReactNode {
  if (mark.tag === 'image') return imageIn(mark.attrs, address(mark.attrs.href), key)
  const props: Record<string, string | number> = { key }
  if (mark.tag === 'text') noteLetters(mark.children[0])
  for (const [name, value] of Object.entries(painted(mark, theme))) props[reactName(name)] = value
  const children =
    'children' in mark
      ? mark.children.map((child, index) => (typeof child === 'string' ? child : element(child, theme, address, index)))
      : []
  return createElement(mark.tag, props, ...children)
}

function imageIn(
  { x, y, width, height, seen }: Extract<Mark, { tag: 'image' }>['attrs'],
  href: string | undefined,
  key: number,
): ReactNode {
  if (href === undefined) return null
  const box = { x, y, width, height }
  if (!seen) return <image key={key} {...box} href={href} />
  return (
    <svg key={key} {...box}>
      <image {...wholeOf({ x: 0, y: 0, width, height }, seen)} {...CROPPED} href={href} />
    </svg>
  )
}

const Marks = memo(function Marks({ marks, theme }: { marks: readonly Mark[]; theme: Theme }) {
  const address = useContext(Assets)
  return <>{marks.map((mark, index) => element(mark, theme, address, index))}</>
})

/** The core’s marks as SVG on the page, in its order: the same tree that the serialiser writes for export. */
export const Layers = memo(function Layers({ layers, theme }: { layers: readonly Layer[]; theme: Theme }) {
  return (
    <>
      {layers.map(({ marks, x, y, item, link, side }) =>
        item ? (
          <g key={`item ${item.id}`} data-item={item.id} transform={`translate(${x} ${y})`}>
            <Marks marks={marks} theme={theme} />
          </g>
        ) : (
          <Marks key={link ? `link ${link.id}` : side} marks={marks} theme={theme} />
        ),
      )}
    </>
  )
})
