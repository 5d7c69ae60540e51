import { useSelection } from '../../shared/design/selection'
import { showLength } from '../../shared/design/units'
import { useEvaluation, useSeams, useUnit } from '../../shared/evaluation/store'
import { useProjection } from '../../shared/view/view'
import { useShowsLetterGaps } from './letterGaps'

/** How high a bar of the mean white is, in pixels. */
const HIGH = 22
const MOST = 2.2

/** Over the work, in pixels: the white between neighbours as a thin graph under each line. A bar that stands far
 * from the dotted mean is a pair that looks wide or crowded; a small tick is how the face sets it. */
export function LetterGapGraph() {
  const shown = useShowsLetterGaps((s) => s.shown)
  const evaluation = useEvaluation()
  const part = useSelection((s) => s.selection.part)
  const seams = useSeams()
  const unit = useUnit()
  const { px: pixels, scale } = useProjection()
  if (!shown || !evaluation || seams.length === 0) return null
  const letters = evaluation.letters.filter((l) => l.part === part)
  const lines = [...new Set(seams.map((s) => s.line))]
  return (
    <g data-white-graph pointerEvents="none" style={{ fontSize: 11 }}>
      {lines.map((line) => {
        const own = seams.filter((s) => s.line === line)
        const mean = own.reduce((sum, s) => sum + s.letter_gap_mm, 0) / own.length
        const meanSet = own.reduce((sum, s) => sum + s.set_letter_gap_mm, 0) / own.length
        const boxes = letters.filter((l) => l.line === line).map((l) => l.box)
        const foot = Math.max(...boxes.map((b) => b.y + b.height))
        const x0 = pixels({ x: Math.min(...boxes.map((b) => b.x)), y: foot }).x
        const x1 = pixels({ x: Math.max(...boxes.map((b) => b.x + b.width)), y: foot }).x
        const base = pixels({ x: 0, y: foot }).y + 44 + MOST * HIGH
        const high = (white: number, of: number) => HIGH * Math.min(MOST, of > 0 ? white / of : 0)
        return (
          <g key={line}>
            <path
              d={`M${Math.min(x0, x1)} ${base}H${Math.max(x0, x1)}`}
              stroke="var(--chakra-colors-edge)"
              strokeWidth="1"
            />
            <path
              d={`M${Math.min(x0, x1)} ${base - HIGH}H${Math.max(x0, x1)}`}
              stroke="var(--chakra-colors-soft-ink)"
              strokeWidth="1"
              strokeDasharray="1 4"
              strokeLinecap="round"
            />
            {own.map((seam) => {
              const [a, b] = [seam.left, seam.right].map((id) => letters.find((l) => l.id === id)?.box)
              if (!a || !b) return null
              const middle = pixels({ x: (a.x + a.width + b.x) / 2, y: foot }).x
              const share = mean > 0 ? seam.letter_gap_mm / mean : 1
              const uneven = share < 0.5 || share > 1.7
              const top = base - high(seam.letter_gap_mm, mean)
              const set = base - high(seam.set_letter_gap_mm, meanSet)
              return (
                <g key={seam.left} data-white={`${seam.left_text}${seam.right_text}`} data-uneven={uneven}>
                  <path
                    d={`M${middle} ${base}V${top}`}
                    stroke={uneven ? 'var(--chakra-colors-thin)' : 'var(--chakra-colors-ink)'}
                    strokeWidth={Math.min(9, Math.max(4, scale * 0.8))}
                  />
                  <path
                    d={`M${middle - 8} ${set}h16`}
                    stroke="var(--chakra-colors-soft-ink)"
                    strokeWidth="1.5"
                  />
                </g>
              )
            })}
            <text x={Math.max(x0, x1) + 10} y={base - HIGH + 4} fill="var(--chakra-colors-soft-ink)">
              {`white ${showLength(mean, unit)}`}
            </text>
          </g>
        )
      })}
    </g>
  )
}
