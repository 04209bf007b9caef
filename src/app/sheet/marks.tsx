import { createElement, memo, type ReactNode } from 'react'
import { painted, type Mark, type Theme } from '../../core/scene'

const reactNames = new Map<string, string>()

/** `stroke-width` is `strokeWidth` to React. */
function reactName(name: string): string {
  const known = reactNames.get(name) ?? name.replace(/-([a-z])/g, (_, letter: string) => letter.toUpperCase())
  reactNames.set(name, known)
  return known
}

function element(mark: Mark, theme: Theme, key: number): ReactNode {
  const props: Record<string, string | number> = { key }
  for (const [name, value] of Object.entries(painted(mark, theme))) props[reactName(name)] = value
  const children = mark.children?.map((child, index) =>
    typeof child === 'string' ? child : element(child, theme, index),
  )
  return createElement(mark.tag, props, ...(children ?? []))
}

/** The core's marks as SVG on the page: the same tree that the serialiser writes for export. */
export const Marks = memo(function Marks({ marks, theme }: { marks: readonly Mark[]; theme: Theme }) {
  return <>{marks.map((mark, index) => element(mark, theme, index))}</>
})
