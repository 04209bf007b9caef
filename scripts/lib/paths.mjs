import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

export const root = join(dirname(fileURLToPath(import.meta.url)), '..', '..')
/** Everything that this clone makes for itself at run time; ignored by git. */
export const own = join(root, '.skivel')
