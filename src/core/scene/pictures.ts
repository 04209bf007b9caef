import { shapeOfAsset } from '../model'
import type { Box, Point } from './mark'

/** What is seen of a picture, in shares of its width and height, where it fills a box around the point that matters, as far as the picture reaches. */
export function seenOf(asset: string, { width, height }: Pick<Box, 'width' | 'height'>, point: Point): Box {
  const wider = shapeOfAsset(asset) / (width / height)
  const [across, down] = [Math.min(1, 1 / wider), Math.min(1, wider)]
  const from = (share: number, seen: number) => Math.max(0, Math.min(1 - seen, share - seen / 2))
  return { x: from(point.x, across), y: from(point.y, down), width: across, height: down }
}

/** Where all of a picture would lie of which only so much is seen in a box. */
export function wholeOf(box: Box, seen: Box): Box {
  const [width, height] = [box.width / seen.width, box.height / seen.height]
  return { x: box.x - seen.x * width, y: box.y - seen.y * height, width, height }
}
