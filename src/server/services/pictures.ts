import type { BookWish, Delivered } from '../draw/deliver'
import { carryOut } from '../threads/crew'
import type { PictureWish } from '../threads/tasks'
import type { Snapshot } from './memory'

/** Views of a workspace as a file. @throws NotFound, TooLong, BadRequest for what cannot be drawn so. */
export const pictureOf = (snapshot: Snapshot, wish: PictureWish): Promise<Delivered> =>
  carryOut('picture', wish, snapshot)

/** How long a book may take: it draws all views there are. */
const BOOK_MS = 60_000

/** A workspace as a book. @throws TooLong */
export const bookOf = (snapshot: Snapshot, wish: Omit<BookWish, 'onPage'>): Promise<Delivered> =>
  carryOut('book', wish, snapshot, { limit: BOOK_MS })
