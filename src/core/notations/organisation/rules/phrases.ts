import type { Day, Id, Model } from '../../../model'
import { titleOf } from '../words'

export const quoted = (model: Model, id: Id, day: Day): string => `“${titleOf(model, id, day)}”`
