import type { Day } from '../../core/model'
import type { Beginning } from '../threads/begin'
import { carryOut } from '../threads/crew'

/** Facts for a new workspace, with the pictures that come along. @throws FileError, BadRequest, NotFound, TooLong: each in words. */
export const begin = (beginning: Beginning, day: Day) => carryOut('begin', { beginning, day })
