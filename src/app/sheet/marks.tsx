import { createElement, memo, type ReactNode } from 'react'
import { assetAddress } from '../picture'
import { useWorkspace } from '../store'
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
  // Without a workspace, as in a preview, there are no assets: what stands beneath an image shows.
  const { id } = useWorkspace.getState()
  if (mark.tag === 'image' && id === '') return null
  for (const [name, value] of Object.entries(painted(mark, theme))) props[reactName(name)] = value
  if (mark.tag === 'image') props['href'] = assetAddress(id, String(mark.attrs['href']))
  const children = mark.children?.map((child, index) =>
    typeof child === 'string' ? child : element(child, theme, index),
  )
  return createElement(mark.tag, props, ...(children ?? []))
}

/** The core's marks as SVG on the page: the same tree that the serialiser writes for export. */
export const Marks = memo(function Marks({ marks, theme }: { marks: readonly Mark[]; theme: Theme }) {
  return <>{marks.map((mark, index) => element(mark, theme, index))}</>
})
