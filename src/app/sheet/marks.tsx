import { createContext, createElement, memo, useContext, type ReactNode } from 'react'
import { painted, type Layer, type Mark, type Theme } from '../../core/scene'

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
  const props: Record<string, string | number> = { key }
  for (const [name, value] of Object.entries(painted(mark, theme))) props[reactName(name)] = value
  if (mark.tag === 'image') {
    const href = address(mark.attrs.href)
    if (href === undefined) return null
    props['href'] = href
  }
  const children =
    'children' in mark
      ? mark.children.map((child, index) => (typeof child === 'string' ? child : element(child, theme, address, index)))
      : []
  return createElement(mark.tag, props, ...children)
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
