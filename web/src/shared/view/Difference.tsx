import { type Evaluation, outlineOf } from '../evaluation/evaluation'

/** In the work's millimetres: what one outline has over another, and what it lacks. */
export function Difference({ now, then }: { now: Evaluation; then: Evaluation }) {
  const before = wholeOf(now)
  const after = wholeOf(then)
  return (
    <g pointerEvents="none" data-preview>
      <Without id="before-change" d={before} evaluation={then} />
      <Without id="after-change" d={after} evaluation={now} />
      <path d={after} fill="var(--chakra-colors-hold)" mask="url(#before-change)" />
      <path d={before} fill="var(--chakra-colors-card)" fillOpacity="0.75" mask="url(#after-change)" />
    </g>
  )
}

const wholeOf = (evaluation: Evaluation) => evaluation.films.map(outlineOf).join('')

/** Hides what an outline covers. */
function Without({ id, d, evaluation: { box } }: { id: string; d: string; evaluation: Evaluation }) {
  const area = { x: box.x - 1, y: box.y - 1, width: box.width + 2, height: box.height + 2 }
  return (
    <mask id={id} maskUnits="userSpaceOnUse" {...area}>
      <rect {...area} fill="white" />
      <path d={d} fill="black" />
    </mask>
  )
}
