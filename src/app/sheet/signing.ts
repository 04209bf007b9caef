import type { Box, Camera, Size } from '../../core/scene'

/** Below this size of the sheet signs on it shrink along, down to half, so that they do not hide what they mark. */
const FULL_SIZE_FROM = 0.6

export const sizeOfSigns = ({ k }: Camera): number => Math.max(0.5, Math.min(1, k / FULL_SIZE_FROM))

/** What of the scene is seen, in its px. */
export const seenThrough = ({ x, y, k }: Camera, { width, height }: Size): Box => ({
  x: -x / k,
  y: -y / k,
  width: width / k,
  height: height / k,
})
