import { memo, type ReactNode, useLayoutEffect } from 'react'
import { counted } from '../../shared/design/counted'
import type { Unit } from '../../shared/design/recipe'
import { usePart } from '../../shared/design/store'
import { showLength } from '../../shared/design/units'
import { type Evaluation, piecesOf } from '../../shared/evaluation/evaluation'
import { useEvaluation, useStale, useUnit } from '../../shared/evaluation/store'
import { Difference } from '../../shared/view/Difference'
import { Ground } from '../../shared/view/Ground'
import { useGlimpse } from '../../shared/view/glance'
import { Outlines } from '../../shared/view/Outlines'
import { seenBox, transformOfView, useProjection, useView } from '../../shared/view/view'
import { PhotoGround } from '../../stages/build/PhotoGround'

interface Props {
  /** What a stage lays over the work: in its millimetres, and in the window's pixels. */
  inMm?: ReactNode
  inPx?: ReactNode
}

/** The work on quiet ground, with rulers; wheel or pinch zooms to the pointer, dragging moves it. */
export const Work = memo(function Work({ inMm, inPx }: Props) {
  const evaluation = useEvaluation()
  const stale = useStale()
  const unit = useUnit()
  const view = useView()
  const glimpse = useGlimpse()
  const before =
    glimpse !== null && glimpse.kind !== 'way' ? { ...glimpse, said: BEFORE[glimpse.kind] } : null
  const compared = before?.kind === 'version' ? before.evaluation : null
  const { look, side, fitted, fitTo, window: size } = view
  const box = evaluation?.box
  // In Build the ruler begins where places are typed from; elsewhere at the work's own corner, to read its size.
  const placing = useView((s) => s.stage === 'build')
  const corner = box && !placing ? seenBox(box, side) : NOWHERE

  // biome-ignore lint/correctness/useExhaustiveDependencies: a new window size or side fits anew as well
  useLayoutEffect(() => {
    if (fitted && box) fitTo(box)
  }, [fitted, box, fitTo, size, side])

  return (
    <Ground
      label="The work."
      title={evaluation ? describe(evaluation, unit) : 'Nothing yet'}
      testId="work"
      stale={stale}
      corner={corner}
    >
      {evaluation && (
        <g transform={transformOfView(view)} opacity={stale ? 0.35 : 1}>
          <PhotoGround />
          <Outlines evaluation={compared ? evaluation : (before?.evaluation ?? evaluation)} look={look} />
          {compared && <Difference now={evaluation} then={compared} />}
          {before === null && inMm}
        </g>
      )}
      {evaluation && <Guides evaluation={evaluation} unit={unit} />}
      {before === null ? inPx : <BeforeTag>{before.said}</BeforeTag>}
    </Ground>
  )
})

const NOWHERE = { x: 0, y: 0 }

const BEFORE = {
  before: 'As the face sets it',
  'as-made': 'Without what makes it ready',
  version: 'Green is what that version has more; pale is what it has not',
}

/** What is seen while the maker compares. */
function BeforeTag({ children }: { children: ReactNode }) {
  return (
    <text x="40" y="84" fill="var(--chakra-colors-ink)" fontWeight="600" style={{ fontSize: 15 }} data-before>
      {children}
    </text>
  )
}

function describe(evaluation: Evaluation, unit: Unit): string {
  const { box } = evaluation
  const count = piecesOf(evaluation).length
  return `${counted(count, 'piece')}, ${showLength(box.width, unit)} by ${showLength(box.height, unit)}`
}

/** The controls of the view lie over the work down to here: no dimension line runs below them. */
const CONTROLS_END = 56

/** Baselines, the height of a capital where the maker sizes by it, and the size of the whole. */
function Guides({ evaluation, unit }: { evaluation: Evaluation; unit: Unit }) {
  const { px, scale } = useProjection()
  const stage = useView((s) => s.stage)
  const byCapitals = usePart((part) => part.size.measure === 'capitals')
  const { box, parts } = evaluation
  const corners = [px(box), px({ x: box.x + box.width, y: box.y + box.height })]
  const left = Math.min(...corners.map((c) => c.x))
  const right = Math.max(...corners.map((c) => c.x))
  const top = px(box).y
  const bottom = top + box.height * scale
  const over = top - 34
  const beside = right + 30
  return (
    <g style={{ fontSize: 13 }} fill="var(--chakra-colors-ink)" stroke="none" pointerEvents="none">
      {parts
        .filter((part) => part.place.turn === 0)
        .flatMap((part) =>
          (part.made?.baselines_mm ?? []).map((baseline) => {
            const at = px({ x: 0, y: part.place.y + baseline * part.place.scale }).y
            const capital = (part.made?.capital_height_mm ?? 0) * part.place.scale * scale
            return (
              <g key={`${part.id} ${baseline}`} stroke="var(--chakra-colors-edge)" strokeWidth="1">
                <path d={`M${left - 18} ${at}H${right + 18}`} strokeDasharray="1 5" strokeLinecap="round" />
                {byCapitals && stage === 'letter' && (
                  <path
                    d={`M${left - 18} ${at - capital}H${right + 18}`}
                    strokeDasharray="6 5"
                    opacity="0.6"
                  />
                )}
              </g>
            )
          }),
        )}
      {over > CONTROLS_END && (
        <Dimension
          from={left}
          to={right}
          at={over}
          label={showLength(box.width, unit, unit === 'in' ? 2 : 1)}
        />
      )}
      <g transform={`translate(${beside} ${(top + bottom) / 2}) rotate(90)`}>
        <Dimension
          from={-(bottom - top) / 2}
          to={(bottom - top) / 2}
          at={0}
          label={showLength(box.height, unit, unit === 'in' ? 2 : 1)}
        />
      </g>
    </g>
  )
}

function Dimension({ from, to, at, label }: { from: number; to: number; at: number; label: string }) {
  const middle = (from + to) / 2
  const half = label.length * 3.8 + 8
  const fits = to - from > half * 2 + 16
  const line = fits ? `M${from} ${at}H${middle - half}M${middle + half} ${at}H${to}` : `M${from} ${at}H${to}`
  return (
    <g>
      <path
        d={`${line}M${from} ${at - 6}v12M${to} ${at - 6}v12`}
        fill="none"
        stroke="var(--chakra-colors-soft-ink)"
        strokeWidth="1"
      />
      <text x={middle} y={fits ? at + 4.5 : at - 9} textAnchor="middle" fontWeight="550">
        {label}
      </text>
    </g>
  )
}
