import { chakra } from '@chakra-ui/react'
import type { Evaluation, Measured } from '../design/recipe'
import { useDesign } from '../design/store'
import { KNIFE_INK } from '../theme'
import { useView } from '../workbench/view'
import { useJoin } from './joinState'
import { SeamMark, STATE_INKS, STATE_WORDS } from './SeamMark'
import { around, middle, seamKey } from './seams'
import { useDrag, useLetterDrag } from './useLetterDrag'

const Letter = chakra('g', {
  base: {
    cursor: 'move',
    // A finger's width around the strokes.
    '& > .hold': { fill: 'transparent', stroke: 'transparent', strokeWidth: '8px', pointerEvents: 'all' },
    '& > .edge': { fill: 'none', stroke: 'none', pointerEvents: 'none' },
    '&:hover > .edge': { stroke: 'ink', strokeWidth: '1.5px' },
    '&[data-chosen=true] > .edge': { stroke: 'ink', strokeWidth: '2.25px' },
  },
})

interface Props {
  evaluation: Evaluation
}

/** Over the work, in its millimetres: the letters' own outlines as ghosts, to be chosen and dragged, and the
 * chord or gap of each seam. */
export function LetterGhosts({ evaluation, measured }: Props & { measured: Measured | undefined }) {
  const partId = useDesign((s) => s.partId)
  const chosen = useJoin((s) => s.letters)
  const drag = useDrag((s) => s.drag)
  const { down, move, up } = useLetterDrag(evaluation)
  return (
    <g>
      <Edges evaluation={evaluation} />
      {evaluation.letters.map((letter) => {
        const picked = letter.part === partId && chosen.includes(letter.id)
        return (
          <Letter
            key={`${letter.part} ${letter.id}`}
            data-letter={letter.text}
            data-chosen={picked}
            onPointerDown={(event) => down(event, letter.part, letter.id)}
            onPointerMove={move}
            onPointerUp={up}
            onPointerCancel={up}
          >
            {/* Each contour by itself, so that a letter can be taken by its counter too. */}
            {letter.d.split(/(?=M)/).map((contour) => (
              <path key={contour} className="hold" d={contour} vectorEffect="non-scaling-stroke" />
            ))}
            <path className="edge" d={letter.d} vectorEffect="non-scaling-stroke" />
          </Letter>
        )
      })}
      {drag && <Dragged outlines={drag.dragged} dx={drag.dx} dy={drag.dy} />}
      {drag && <Dragged outlines={drag.along} dx={drag.dx} dy={0} />}
      {measured && <SeamChords evaluation={measured} />}
    </g>
  )
}

/** The letters' own outlines as ghosts, and the edge of the weld over them. */
export function Edges({ evaluation }: Props) {
  const look = useView((s) => s.look)
  return (
    <g fill="none" pointerEvents="none">
      <g stroke="var(--chakra-colors-card)" strokeDasharray="3 2.5" strokeWidth="1">
        {evaluation.letters.map((letter) => (
          <path key={`${letter.part} ${letter.id}`} d={letter.d} vectorEffect="non-scaling-stroke" />
        ))}
      </g>
      {/* Ghosts show inside the weld only: its edge is drawn over them. */}
      {evaluation.films.map((film) => (
        <path
          key={film.colour}
          d={film.pieces.map((piece) => piece.d).join('')}
          stroke={look === 'film' ? film.colour : KNIFE_INK}
          strokeWidth="1.75"
          vectorEffect="non-scaling-stroke"
        />
      ))}
    </g>
  )
}

/** Letters on their way, before the weld has followed. */
function Dragged({ outlines, dx, dy }: { outlines: string[]; dx: number; dy: number }) {
  return (
    <g
      data-drag
      transform={`translate(${dx} ${dy})`}
      fill="var(--chakra-colors-ink)"
      fillOpacity="0.22"
      stroke="var(--chakra-colors-ink)"
      strokeWidth="1.25"
      pointerEvents="none"
    >
      {outlines.map((d) => (
        <path key={d} d={d} vectorEffect="non-scaling-stroke" />
      ))}
    </g>
  )
}

function SeamChords({ evaluation }: { evaluation: Measured }) {
  return (
    <g pointerEvents="none" strokeLinecap="round" fill="none">
      {evaluation.seams.map((seam) => {
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
export function SeamMarkers({ evaluation }: { evaluation: Measured }) {
  const { scale, x, y } = useView()
  const chosen = useJoin((s) => s.seam)
  const partId = useDesign((s) => s.partId)
  const feet = new Map<string, number>()
  for (const letter of evaluation.letters) {
    const key = `${letter.part} ${letter.line}`
    const foot = letter.box.y + letter.box.height
    feet.set(key, Math.max(feet.get(key) ?? foot, foot))
  }
  return (
    <g>
      {evaluation.seams.map((seam) => {
        const spot = middle(seam)
        const px = x + spot.x * scale
        const from = y + spot.y * scale
        const to = y + (feet.get(`${seam.part} ${seam.line}`) ?? 0) * scale + 24
        const picked = seam.part === partId && seam.left === chosen
        return (
          <Marker
            key={seamKey(seam)}
            data-marker={seam.state}
            onPointerDown={(event) => event.stopPropagation()}
            onClick={() => {
              useDesign.getState().choosePart(seam.part)
              useJoin.getState().chooseSeam(seam.left, seam.right)
              useView.getState().show(around(seam, evaluation, 1.1))
            }}
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
