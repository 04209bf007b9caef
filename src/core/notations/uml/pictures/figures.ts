import { kit, type Mark, type Role } from '../../../scene'

/** The figure of an actor (UML 2.5.1, 18.1.4), its head at the top, `x` its middle: 34 px high. */
export const actorMarks = (x: number, y = 0, stroke: Role = 'ink'): Mark[] => [
  kit.circle(x, y + 7, 5, { fill: 'plate', stroke, 'stroke-width': 1.2 }),
  kit.path(
    `M${x} ${y + 12}V${y + 24}M${x - 9} ${y + 16}H${x + 9}M${x - 8} ${y + 34}L${x} ${y + 24}L${x + 8} ${y + 34}`,
    {
      fill: 'none',
      stroke,
      'stroke-width': 1.2,
    },
  ),
]
export const ACTOR_HEIGHT = 34
