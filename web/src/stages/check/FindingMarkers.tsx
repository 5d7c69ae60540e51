import { chakra } from '@chakra-ui/react'
import { useEvaluation, useFindings } from '../../shared/evaluation/store'
import { useReadied } from '../../shared/ready/ready'
import { Difference } from '../../shared/view/Difference'
import { type Projection, useProjection } from '../../shared/view/view'
import { chooseFinding, type Finding, findingKey, useChosenFinding } from './findings'
import { usePreview } from './useRemedy'

/** Over the work, in its millimetres: what the chosen finding's remedy adds, and what it takes away; else what
 * making ready adds and takes. */
export function RemedyPreview() {
  const evaluation = useEvaluation()
  const preview = usePreview()
  const readied = useReadied()
  if (preview && evaluation) return <Difference now={evaluation} then={preview} />
  return readied && <Difference now={readied.before} then={readied.after} />
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
