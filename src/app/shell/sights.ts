import type { Sight } from '../../core/scene'

/** What each way of seeing is called, and what it lacks. */
export const SIGHT_WORDS: Readonly<Record<Sight, readonly [title: string, line: string]>> = {
  grey: ['Grey printer', 'Lightness alone'],
  protanopia: ['Protanopia', 'Without the cones for red'],
  deuteranopia: ['Deuteranopia', 'Without the cones for green'],
  tritanopia: ['Tritanopia', 'Without the cones for blue'],
}

/** A filter of `SightFilters`, which are on the page. */
export const sightFilter = (sight: Sight): string => `url(#sight-${sight})`
