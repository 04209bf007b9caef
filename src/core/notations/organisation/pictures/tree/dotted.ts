import { covers, type Day, type Id, type Model } from '../../../../model'
import { around, type Box, type Link } from '../../../../scene'
import { isSolid } from '../../structure'

/** Dotted lines between drawn cards, right-angled, from the side of one card to the side of the other. O(lines). */
export function dottedLinks(model: Model, boxes: ReadonlyMap<Id, Box>, day: Day): Link[] {
  return model.relationsOfKind('reports-to').flatMap((line): Link[] => {
    const [a, b] = [boxes.get(line.source), boxes.get(line.target)]
    if (isSolid(line) || !covers(line, day) || !a || !b || line.source === line.target) return []
    const rightwards = b.x + b.width / 2 >= a.x + a.width / 2
    const start = { x: rightwards ? a.x + a.width : a.x, y: a.y + 10 }
    const end = { x: rightwards ? b.x : b.x + b.width, y: b.y + b.height - 10 }
    const lane = rightwards ? start.x + 8 : start.x - 8
    const near = rightwards ? end.x - 8 : end.x + 8
    const level = b.y + b.height + 8
    const d = `M${start.x} ${start.y}H${lane}V${level}H${near}V${end.y}H${end.x}`
    return [
      {
        id: line.id,
        source: line.source,
        target: line.target,
        bounds: around([a, b, { x: Math.min(lane, near), y: level, width: Math.abs(lane - near), height: 1 }], 12),
        marks: [
          {
            tag: 'path',
            attrs: {
              d,
              fill: 'none',
              stroke: 'ink',
              'stroke-width': 1.25,
              'stroke-dasharray': '2 4',
              'stroke-linecap': 'round',
            },
          },
        ],
      },
    ]
  })
}
