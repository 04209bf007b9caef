import { SIGHT_MATRICES, SIGHTS } from '../../core/scene'

/** Filters that show what lies under them as others see it: linear light through a matrix. */
export function SightFilters() {
  return (
    <svg aria-hidden className="absolute size-0">
      {SIGHTS.map((sight) => (
        <filter key={sight} id={`sight-${sight}`} colorInterpolationFilters="linearRGB">
          <feColorMatrix
            type="matrix"
            values={[...SIGHT_MATRICES[sight].map((row) => `${row.join(' ')} 0 0`), '0 0 0 1 0'].join(' ')}
          />
        </filter>
      ))}
    </svg>
  )
}
