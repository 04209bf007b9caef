import { createHmac } from 'node:crypto'

/** By which a part of a picture is known at a secret address: nobody learns the fact’s identity from it, nor its mark at another address. */
export const partMark = (secret: string, fact: string): string =>
  createHmac('sha256', secret).update(fact).digest('base64url').slice(0, 22)
