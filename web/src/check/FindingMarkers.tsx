import { chakra } from '@chakra-ui/react'
import { useView } from '../workbench/view'
import { type Finding, type Findings, findingKey, useCheck } from './findings'
import { usePreview } from './useRemedy'

/** Over the work, in its millimetres: the outline as the chosen finding's remedy would make it. */
export function RemedyPreview({ findings }: { findings: Findings | undefined }) {
  const preview = usePreview(findings)
  if (!preview) return null
  const d = preview.films.flatMap((film) => film.pieces.map((piece) => piece.d)).join('')
  return (
    <g fill="none" pointerEvents="none" data-preview>
      <path d={d} stroke="var(--chakra-colors-card)" strokeWidth="4" vectorEffect="non-scaling-stroke" />
      <path
        d={d}
        stroke="var(--chakra-colors-hold)"
        strokeWidth="2"
        strokeDasharray="6 3"
        vectorEffect="non-scaling-stroke"
      />
    </g>
  )
}

const Marker = chakra('g', { base: { cursor: 'pointer' } })

/** Over the work, in pixels: a ring around each finding. */
export function FindingMarkers({ findings }: { findings: Findings | undefined }) {
  const { scale, x, y } = useView()
  const chosen = useCheck((s) => s.chosen)
  const choose = useCheck((s) => s.choose)
  return (
    <g>
      {findings?.findings.map((finding) => {
        const picked = findingKey(finding) === chosen
        const { cx, cy, r } = ring(finding, scale, x, y)
        const ink = finding.accepted ? 'soft-ink' : finding.blocks ? 'knife' : 'thin'
        return (
          <Marker
            key={`${findingKey(finding)} ${finding.number}`}
            data-finding-mark={finding.kind}
            onPointerDown={(event) => event.stopPropagation()}
            onClick={() => choose(picked ? null : findingKey(finding))}
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

function ring({ box }: Finding, scale: number, x: number, y: number) {
  return {
    cx: x + (box.x + box.width / 2) * scale,
    cy: y + (box.y + box.height / 2) * scale,
    r: Math.max(11, (Math.hypot(box.width, box.height) * scale) / 2 + 6),
  }
}
