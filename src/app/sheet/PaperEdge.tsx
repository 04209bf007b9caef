import { leastPoints, type Camera, type Scene } from '../../core/scene'

/** The paper that a picture is on, with its edge and how small its smallest text is printed; nothing where it is on none. */
export function PaperEdge({ scene, camera }: { scene: Scene; camera: Camera }) {
  const least = leastPoints(scene)
  if (!scene.paper) return null
  const { box, title } = scene.paper
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full" data-testid="paper">
      <rect width="100%" height="100%" fill="var(--sheet-beside)" />
      <rect
        x={box.x * camera.k + camera.x}
        y={box.y * camera.k + camera.y}
        width={box.width * camera.k}
        height={box.height * camera.k}
        fill="var(--sheet-ground)"
        stroke="var(--sheet-edge)"
      />
      <text
        x={(box.x + box.width) * camera.k + camera.x - 6}
        y={(box.y + box.height) * camera.k + camera.y - 6}
        textAnchor="end"
        fontSize={9}
        fill="var(--sheet-quiet)"
      >
        {title}
        {least !== undefined && ` · smallest text ${least < 10 ? least.toFixed(1) : Math.round(least)} pt`}
      </text>
    </svg>
  )
}
