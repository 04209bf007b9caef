import type { Icons } from './iconList'

export type { Icons }

let icons: Icons | undefined

/** From now on pictures are drawn with these icons. */
export function provideIcons(provided: Icons): void {
  icons = provided
}

/** Loads the icons that are shipped, unless they are there; undefined when they are. */
export const loadIcons = (): Promise<Icons> | undefined =>
  icons
    ? undefined
    : import('./iconList').then(({ shippedIcons }) => {
        provideIcons(shippedIcons)
        return shippedIcons
      })

/** Path data of an icon; undefined while icons are not there, and for one that there is not. */
export const iconData = (name: string): string | undefined => icons?.data(name)
export const iconsThere = (): Icons | undefined => icons
