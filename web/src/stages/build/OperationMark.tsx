import type { Operation } from '../../shared/design/partNames'

const LEFT = 'M8 4a6 6 0 1 0 0 12a6 6 0 1 0 0 -12Z'
const RIGHT = 'M12 4a6 6 0 1 0 0 12a6 6 0 1 0 0 -12Z'
/** What two discs have in common: arcs of a radius of 6 through where they cross. */
const LENS = 'M10 4.34A6 6 0 0 1 10 15.66A6 6 0 0 1 10 4.34Z'

/** What an operation does to two discs. */
export function OperationMark({ how }: { how: Operation }) {
  const line = { fill: 'none', stroke: 'currentColor', strokeWidth: 1.4 }
  return (
    <svg width="100%" height="100%" viewBox="0 0 20 20" aria-hidden="true">
      {how === 'weld' && <path d={`${LEFT}${RIGHT}`} fill="currentColor" />}
      {how === 'edges' && (
        <>
          <path d={LEFT} {...line} />
          <path d={RIGHT} fill="currentColor" />
        </>
      )}
      {how === 'cut' && (
        <>
          <path d={`${LEFT}${LENS}`} fill="currentColor" fillRule="evenodd" />
          <path d={RIGHT} {...line} strokeDasharray="2 1.6" />
        </>
      )}
      {how === 'overlap' && (
        <>
          <path d={LEFT} {...line} strokeDasharray="2 1.6" />
          <path d={RIGHT} {...line} strokeDasharray="2 1.6" />
          <path d={LENS} fill="currentColor" />
        </>
      )}
      {how === 'divide' && (
        <>
          <path d={LEFT} {...line} />
          <path d={RIGHT} {...line} />
        </>
      )}
      {how === 'halo' && (
        <>
          <path d="M3 10h3.4M13.6 10H17" stroke="currentColor" strokeWidth="7" />
          <circle cx="10" cy="10" r="2.2" fill="currentColor" />
        </>
      )}
    </svg>
  )
}
