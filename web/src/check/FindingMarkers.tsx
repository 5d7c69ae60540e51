import { chakra } from '@chakra-ui/react'
import type { Evaluation } from '../design/recipe'
import { useView } from '../workbench/view'
import { type Finding, type Findings, findingKey, useCheck } from './findings'
import { usePreview } from './useRemedy'

/** Over the work, in its millimetres: what the chosen finding's remedy adds, and what it takes away. */
export function RemedyPreview({
  findings,
  evaluation,
}: {
  findings: Findings | undefined
  evaluation: Evaluation
}) {
  const preview = usePreview(findings)
  if (!preview) return null
  const before = outlineOf(evaluation)
  const after = outlineOf(preview)
  return (
    <g pointerEvents="none" data-preview>
      <Without id="before-remedy" d={before} evaluation={preview} />
      <Without id="after-remedy" d={after} evaluation={evaluation} />
      <path d={after} fill="var(--chakra-colors-hold)" mask="url(#before-remedy)" />
      <path d={before} fill="var(--chakra-colors-card)" fillOpacity="0.75" mask="url(#after-remedy)" />
    </g>
  )
}

const outlineOf = (evaluation: Evaluation) =>
  evaluation.films.flatMap((film) => film.pieces.map((piece) => piece.d)).join('')

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
