import type { Entity, Id, Model } from '../../model'

/** A plug as it is told by names. */
export interface Plug {
  readonly device: string
  readonly port?: string | undefined
}

/** `sw-1 p1 – sw-2 p24`, the same whichever end it is told from. */
export const pairWords = (a: Plug, b: Plug): string =>
  [a, b]
    .map(({ device, port = '' }) => `${device} ${port}`.trim())
    .sort((one, other) => (one.toLowerCase() < other.toLowerCase() ? -1 : 1))
    .join(' – ')

/** What the devices of a network were seen to say, as it was brought in last. */
export const tableFor = (model: Model, network: Id | undefined): Entity | undefined =>
  model.ofKind('neighbours').find(({ fields }) => fields['network'] === network)
