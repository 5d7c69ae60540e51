import { chakra } from '@chakra-ui/react'
import { type Evaluation, outlineOf } from '../evaluation/evaluation'
import { useEvaluation, useFindings } from '../evaluation/store'
import { type Projection, useProjection } from '../workbench/view'
import { chooseFinding, type Finding, findingKey, useChosenFinding } from './findings'
import { usePreview } from './useRemedy'

/** Over the work, in its millimetres: what the chosen finding's remedy adds, and what it takes away. */
export function RemedyPreview() {
  const evaluation = useEvaluation()
  const preview = usePreview()
  if (!preview || !evaluation) return null
  const before = wholeOf(evaluation)
  const after = wholeOf(preview)
  return (
    <g pointerEvents="none" data-preview>
      <Without id="before-remedy" d={before} evaluation={preview} />
      <Without id="after-remedy" d={after} evaluation={evaluation} />
      <path d={after} fill="var(--chakra-colors-hold)" mask="url(#before-remedy)" />
      <path d={before} fill="var(--chakra-colors-card)" fillOpacity="0.75" mask="url(#after-remedy)" />
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

const Marker = chakra('g', { base: { cursor: 'pointer' } })

/** Over the work, in pixels: a ring around each finding. */
export function FindingMarkers() {
  const findings = useFindings()
  const projected = useProjection()
  const chosen = useChosenFinding()
  return (
    <g>
      {findings?.findings.map((finding) => {
        const picked = findingKey(finding) === chosen
        const { cx, cy, r } = ring(finding, projected)
        const ink = finding.accepted ? 'soft-ink' : finding.blocks ? 'knife' : 'thin'
        return (
          <Marker
            key={`${findingKey(finding)} ${finding.number}`}
            data-finding-mark={finding.kind}
            onPointerDown={(event) => event.stopPropagation()}
            onClick={() => chooseFinding(picked ? null : finding)}
          >
            <title>{finding.what}</title>
            <circle
              cx={cx}
              cy={cy}
              r={r}
              fill="transparent"
              stroke="var(--chakra-colors-card)"
              strokeWidth="5"
            />
            <circle
              cx={cx}
              cy={cy}
              r={r}
              fill="none"
              stroke={`var(--chakra-colors-${ink})`}
              strokeWidth={picked ? 3 : 2}
              strokeDasharray={finding.blocks ? undefined : '4 3'}
            />
          </Marker>
        )
      })}
    </g>
  )
}

function ring({ box }: Finding, { px, scale }: Projection) {
  const { x, y } = px({ x: box.x + box.width / 2, y: box.y + box.height / 2 })
  return { cx: x, cy: y, r: Math.max(11, (Math.hypot(box.width, box.height) * scale) / 2 + 6) }
}
