import type { View } from '../../model'
import type { Field } from '../../notation'

/** Where things stood in the file that they came from. */
export const FOREIGN_PLACES: readonly Field[] = [
  { id: 'at', label: 'Place in the file', unit: 'px', type: 'pair', each: 'fact' },
  { id: 'size', label: 'Size in the file', unit: 'px', type: 'pair', each: 'fact' },
  { id: 'way', label: 'Way in the file', unit: 'px', type: 'pair', each: 'point' },
]

/** Whether a view shows the places that its elements had in the file they came from. */
export const isForeign = (view: View): boolean =>
  view.options['places'] === 'as in the file' && Object.keys(view.pins).some((key) => key.startsWith('at '))
