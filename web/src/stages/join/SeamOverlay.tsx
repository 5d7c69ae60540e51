import { chakra } from '@chakra-ui/react'
import { memo } from 'react'
import { lettersOf, useSelection } from '../../shared/design/selection'
import { useDesign } from '../../shared/design/store'
import { type Evaluation, type Letter, letterTransform, type Seam } from '../../shared/evaluation/evaluation'
import { optimisticMovesOf, shiftOf } from '../../shared/evaluation/optimisticMoves'
import { useEvaluation, useEvaluations } from '../../shared/evaluation/store'
import { Difference } from '../../shared/view/Difference'
import { useGlimpse } from '../../shared/view/glance'
import { LetterLines, WeldEdges } from '../../shared/view/Outlines'
import { useProjection, useView } from '../../shared/view/view'
import { SeamMark, STATE_INKS, STATE_WORDS } from './SeamMark'
import { lookAt, middle, seamKey } from './seams'
import { useLetterDrag } from './useLetterDrag'

const Letters = chakra('g', {
  base: {
    '& > [data-letter]': { cursor: 'move' },
    // A finger's width around the strokes.
    '& .hold': { fill: 'transparent', stroke: 'transparent', strokeWidth: '8px', pointerEvents: 'all' },
    '& .edge': { fill: 'none', stroke: 'none', pointerEvents: 'none' },
    '& > :hover > .edge': { stroke: 'ink', strokeWidth: '1.5px' },
    '& > [data-chosen=true] > .edge': { stroke: 'ink', strokeWidth: '2.25px' },
  },
})

interface GhostProps extends ReturnType<typeof useLetterDrag> {
  letter: Letter
  transform: string
  chosen: boolean
}

/** A letter to be chosen and dragged: by its strokes, and each contour by itself, by its counter too. */
const Ghost = memo(function Ghost({ letter, transform, chosen, down, move, up }: GhostProps) {
  return (
    <g
      data-letter={letter.text}
      data-chosen={chosen}
      transform={transform}
      onPointerDown={(event) => down(event, letter.part, letter.id)}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={up}
    >
      {letter.d.split(/(?=M)/).map((contour) => (
        <path key={contour} className="hold" d={contour} vectorEffect="non-scaling-stroke" />
      ))}
      <path className="edge" d={letter.d} vectorEffect="non-scaling-stroke" />
    </g>
  )
})

/** Where letters are by the newest recipe, whether or not its weld has come. */
function useShifts(evaluation: Evaluation | undefined) {
  const recipe = useDesign((s) => s.recipe)
  return evaluation ? optimisticMovesOf(evaluation, recipe) : null
}

/** Over the work, in its millimetres: the letters' own outlines as ghosts, to be chosen and dragged, and the
 * chord or gap of each seam. */
export function LetterGhosts() {
  const evaluation = useEvaluation()
  const shifts = useShifts(evaluation)
  if (!evaluation) return null
  const moving = shifts !== null && shifts.size > 0
  return (
    <>
      {!moving && <Edges />}
      <LetterHolds />
      {!moving && <SeamChords />}
    </>
  )
}

/** Letters to take hold of, in the stage that is open: one that was moved is looked at in Join. */
export function LetterHolds() {
  const evaluation = useEvaluation()
  const selection = useSelection((s) => s.selection)
  const chosen = lettersOf(selection)
  const shifts = useShifts(evaluation)
  const handlers = useLetterDrag(toJoin)
  if (!evaluation) return null
  return (
    <Letters onDoubleClick={toJoin}>
      {evaluation.parts
        .filter((part) => part.shown)
        .flatMap((part) =>
          part.letters.map((letter) => (
            <Ghost
              key={`${part.id} ${letter.id}`}
              letter={letter}
              transform={letterTransform(part, letter, shiftOf(shifts?.get(part.id)?.shifts, letter.id))}
              chosen={part.id === selection.part && chosen.includes(letter.id)}
              {...handlers}
            />
          )),
        )}
    </Letters>
  )
}

const toJoin = () => {
  if (useView.getState().stage !== 'join') useView.getState().setStage('join')
}

/** The letters' own outlines as ghosts, and the edge of the weld over them. */
export function Edges() {
  const evaluation = useEvaluation()
  const look = useView((s) => s.look)
  if (!evaluation) return null
  return (
    <g fill="none" pointerEvents="none">
      <g stroke="var(--chakra-colors-card)" strokeDasharray="3 2.5" strokeWidth="1">
        <LetterLines evaluation={evaluation} />
      </g>
      {/* Ghosts show inside the weld only: its edge is drawn over them. */}
      <WeldEdges evaluation={evaluation} look={look} />
    </g>
  )
}

/** Over the work, in its millimetres: what the way that is looked at would add and take away. */
export function WayPreview() {
  const evaluation = useEvaluation()
  const glimpse = useGlimpse()
  if (!evaluation || glimpse?.kind !== 'way') return null
  return <Difference now={evaluation} then={glimpse.evaluation} />
}

/** All seams that are measured. */
function useAllSeams(): readonly Seam[] {
  const measured = useEvaluations((s) => s.measured)
  return [...(measured?.values() ?? [])].flat()
}

function SeamChords() {
  const seams = useAllSeams()
  return (
    <g pointerEvents="none" strokeLinecap="round" fill="none">
      {seams.map((seam) => {
        const [a, b] = seam.ends
        if (!a || !b) return null
        const d = `M${a.x} ${a.y}L${b.x} ${b.y}`
        return (
          <g key={seamKey(seam)}>
            <path
              d={d}
              stroke="var(--chakra-colors-card)"
              strokeWidth="5"
              vectorEffect="non-scaling-stroke"
            />
            <path
              d={d}
              stroke={STATE_INKS[seam.state]}
              strokeWidth="2.5"
              strokeDasharray={seam.state === 'gap' ? '1 4' : undefined}
              vectorEffect="non-scaling-stroke"
            />
          </g>
        )
      })}
    </g>
  )
}

const Marker = chakra('g', { base: { cursor: 'pointer' } })

/** Over the work, in pixels: a mark for each seam under its line, led to where the seam is. */
export function SeamMarkers() {
  const evaluation = useEvaluation()
  const seams = useAllSeams()
  const { px: pixels, scale } = useProjection()
  const selection = useSelection((s) => s.selection)
  const shifts = useShifts(evaluation)
  // While letters are on their way their seams are not known.
  if (!evaluation || (shifts !== null && shifts.size > 0)) return null
  const feet = new Map<string, number>()
  for (const letter of evaluation.letters) {
    const key = `${letter.part} ${letter.line}`
    const foot = letter.box.y + letter.box.height
    feet.set(key, Math.max(feet.get(key) ?? foot, foot))
  }
  return (
    <g>
      {seams.map((seam) => {
        const spot = middle(seam)
        const { x: px, y: from } = pixels(spot)
        const view = evaluation.parts.find((p) => p.id === seam.part)
        // Along a line that bends a mark stands beside its seam: under the whole line it would be far away.
        const foot = view?.made?.curved ? spot.y : (feet.get(`${seam.part} ${seam.line}`) ?? spot.y)
        const to = from + (foot - spot.y) * scale + 24
        const picked =
          selection.kind === 'seam' && seam.part === selection.part && seam.left === selection.left
        const size = view?.size_mm ?? 40
        return (
          <Marker
            key={seamKey(seam)}
            data-marker={seam.state}
            onPointerDown={(event) => event.stopPropagation()}
            onClick={() => lookAt(seam, size)}
          >
            <title>{`${seam.left_text} ${seam.right_text}: ${STATE_WORDS[seam.state]}`}</title>
            <path
              d={`M${px} ${from + 5}V${to - 10}`}
              stroke={STATE_INKS[seam.state]}
              strokeWidth="1.25"
              strokeDasharray="1 4"
              strokeLinecap="round"
            />
            <g transform={`translate(${px} ${to})`}>
              <circle r="12" fill="transparent" />
              {picked && <circle r="10.5" fill="none" stroke="var(--chakra-colors-ink)" strokeWidth="1.5" />}
              <SeamMark state={seam.state} />
            </g>
          </Marker>
        )
      })}
    </g>
  )
}
