import type { Delivered } from '../draw/deliver'
import { carryOut } from '../threads/crew'
import type { PictureWish } from '../threads/tasks'
import type { Snapshot } from './memory'

/** Views of a workspace as a file. @throws NotFound, TooLong, BadRequest for what cannot be drawn so. */
export const pictureOf = (snapshot: Snapshot, wish: PictureWish): Promise<Delivered> =>
  carryOut('picture', wish, snapshot)
