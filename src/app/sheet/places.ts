import type { Id } from '../../core/model'
import { factOf, meets, overlaps, type Camera, type Handle, type Item, type Point, type Scene } from '../../core/scene'
import { frozenAt } from './camera'

/** Least size on the screen that a handle is taken by, in px. */
const HANDLE_PX = 9

/** Where an item is drawn from: heads stay in view while the rest is moved. */
export function cameraOf(item: Pick<Item, 'stays'>, scene: Scene, camera: Camera): Camera {
  return item.stays === undefined ? camera : frozenAt(scene.bounds, camera)[item.stays]
}

/** Where the heads that stay in view end, in px of the screen; undefined where there are none. */
export function edgeOfHeads({ bounds, frozen }: Scene, camera: Camera): Point | undefined {
  if (!frozen) return undefined
  const { left, top } = frozenAt(bounds, camera)
  return { x: left.x + (bounds.x + frozen.width) * camera.k, y: top.y + (bounds.y + frozen.height) * camera.k }
}

/** A point on the sheet, in px of the screen, as one of the scene: beneath heads that stay in view it is theirs. */
export function inScene(scene: Scene, camera: Camera, { x, y }: Point): Point & { stays: Item['stays'] } {
  const { left, top } = frozenAt(scene.bounds, camera)
  const edge = edgeOfHeads(scene, camera)
  const onLeft = edge !== undefined && x < edge.x
  const onTop = edge !== undefined && y < edge.y
  return {
    x: (x - (onLeft ? left.x : camera.x)) / camera.k,
    y: (y - (onTop ? top.y : camera.y)) / camera.k,
    stays: onTop ? 'top' : onLeft ? 'left' : undefined,
  }
}

/** The item that has a text which is typed into: the one that is meant, else one of the same fact. */
export function typedIn({ items }: Scene, { item, part }: { readonly item: Id; readonly part: string }) {
  const able = items.filter(({ texts }) => texts.some((text) => text.part === part))
  return able.find(({ id }) => id === item) ?? able.find((one) => factOf(one) === item)
}

/** The uppermost item at a point of the screen. */
export function itemAt(scene: Scene, camera: Camera, at: Point): Item | undefined {
  const point = inScene(scene, camera, at)
  const box = { x: point.x, y: point.y, width: 0, height: 0 }
  return (
    scene.items.findLast((item) => item.stays === point.stays && overlaps(item.box, box)) ??
    scene.items.findLast((item) => overlaps(item.box, box))
  )
}

/** What a point of the screen takes hold of: a handle comes first, also one that stands out beside its item. O(items). */
export function holdAt(
  scene: Scene,
  camera: Camera,
  at: Point,
): { readonly item?: Item | undefined; readonly handle?: Handle | undefined } {
  const item = itemAt(scene, camera, at)
  const handle = item && handleAt(item, scene, camera, at)
  if (handle || (item && !item.ground)) return { item, handle }
  for (const beside of scene.items) {
    if (!beside.handles || beside.stays) continue
    const found = handleAt(beside, scene, camera, at)
    if (found) return { item: beside, handle: found }
  }
  return { item: onLine(scene, camera, at) ?? item }
}

/** How near a line is taken hold of, in px of the screen. */
const LINE_PX = 4

/** What stands for the line at a point of the screen, where there is one and something stands for it. */
function onLine(scene: Scene, camera: Camera, at: Point): Item | undefined {
  const point = inScene(scene, camera, at)
  if (point.stays !== undefined) return undefined
  const within = LINE_PX / camera.k
  const near = { x: point.x - within, y: point.y - within, width: 2 * within, height: 2 * within }
  const link = scene.links.findLast(
    ({ bounds, marks }) => overlaps(bounds, near) && marks.some((mark) => meets(mark, point, within)),
  )
  return link && scene.items.find((item) => factOf(item) === link.id)
}

/** The handle of an item at a point of the screen; small ones are taken from a little beside. */
function handleAt(item: Item, scene: Scene, camera: Camera, at: Point): Handle | undefined {
  const point = inScene(scene, camera, at)
  return item.handles?.find(({ box }) => {
    const slackX = Math.max(0, (HANDLE_PX / camera.k - box.width) / 2)
    const slackY = Math.max(0, (HANDLE_PX / camera.k - box.height) / 2)
    const [x, y] = [point.x - item.box.x - box.x, point.y - item.box.y - box.y]
    return x >= -slackX && y >= -slackY && x <= box.width + slackX && y <= box.height + slackY
  })
}
