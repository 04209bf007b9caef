import { lazy, type ComponentType, type LazyExoticComponent } from 'react'

const AGAIN_MS = 3000
const MOST_TRIES = 100

/** Fetches a part of the page; where the line is cut, again until it is there. Fails after five minutes, and at once where what came fails by itself. */
async function arrival<T>(fetch: () => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++)
    try {
      return await fetch()
    } catch (error) {
      // What could not be fetched is a TypeError in every browser (HTML, “fetch a module script graph”).
      if (!(error instanceof TypeError) || tries >= MOST_TRIES) throw error
      await new Promise((resolve) => setTimeout(resolve, AGAIN_MS))
    }
}

/** A part of the page that comes after the first picture: when it is shown first, or with `isSoon` at once. */
export function later<Properties extends object>(
  fetch: () => Promise<ComponentType<Properties>>,
  { isSoon = false } = {},
): LazyExoticComponent<ComponentType<Properties>> {
  const come = async () => ({ default: await arrival(fetch) })
  if (!isSoon) return lazy(come)
  const coming = come()
  // Whoever shows it says that it does not come.
  coming.catch(() => undefined)
  return lazy(() => coming)
}
