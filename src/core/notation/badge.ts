import { isAsset, type Entity, type Model } from '../model'
import { iconData, kit, loadIcons, type Item, type Mark, type Scene } from '../scene'

const SIZE = 22
const ICON = 24
/** The icon within its plate. */
const SCALE = (SIZE - 8) / ICON

const wanting = new WeakMap<Model, boolean>()

/** Loads the icons where some fact has one; undefined where none has, or they are there. O(facts), once for each state of them */
export function iconsFor(model: Model): Promise<unknown> | undefined {
  const known = wanting.get(model)
  const wants = known ?? [...model.entities.values()].some(({ fields }) => fields['icon'] !== undefined)
  if (known === undefined) wanting.set(model, wants)
  return wants ? loadIcons() : undefined
}

/** A picture whose items carry the icons and the small pictures of their facts, at their upper left corners. O(items) */
export function withBadges(scene: Scene, model: Model): Scene {
  const shown = new Set<string>()
  const items = scene.items.map((item): Item => {
    const [fact] = item.facts
    const entity = fact === undefined ? undefined : model.entities.get(fact)
    if (!entity || item.stays || item.ground || item.marks.length === 0 || shown.has(entity.id)) return item
    const badge = badgeOf(entity)
    if (badge.length === 0) return item
    shown.add(entity.id)
    return { ...item, marks: [...item.marks, ...badge] }
  })
  return shown.size === 0 ? scene : { ...scene, items }
}

function badgeOf({ fields }: Entity): readonly Mark[] {
  const box = { x: -SIZE / 2, y: -SIZE / 2, width: SIZE, height: SIZE }
  const { badge, icon } = fields
  if (typeof badge === 'string' && isAsset(badge))
    return [
      kit.rect(box, { fill: 'sheet', stroke: 'none' }),
      kit.cropped(box, badge, { x: 0.5, y: 0.5 }),
      kit.rect(box, { fill: 'none', stroke: 'outline' }),
    ]
  const data = typeof icon === 'string' ? iconData(icon) : undefined
  if (data === undefined) return []
  const path = kit.path(data, {
    fill: 'none',
    stroke: 'ink',
    'stroke-width': 2,
    'stroke-linecap': 'round',
    'stroke-linejoin': 'round',
  })
  return [
    kit.circle(0, 0, SIZE / 2, { fill: 'sheet', stroke: 'outline' }),
    kit.group([kit.moved(path, -ICON / 2, -ICON / 2)], { transform: `scale(${SCALE} ${SCALE})` }),
  ]
}
