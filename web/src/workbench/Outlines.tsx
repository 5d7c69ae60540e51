import { memo } from 'react'
import { useDesign } from '../design/store'
import { aheadOf, type Shifts, shiftOf } from '../evaluation/ahead'
import {
  type Cluster,
  type Evaluation,
  type Film,
  letterTransform,
  outlineOf,
  type Part,
  piecesOf,
  transformOf,
} from '../evaluation/evaluation'
import { KNIFE_INK, PIECE_TINTS } from '../theme'
import { type Look, useView } from './view'

interface Props {
  evaluation: Evaluation
  look: Look
}

/** The work itself, in its millimetres, as the look has it. */
export const Outlines = memo(function Outlines({ evaluation, look }: Props) {
  if (look === 'film') return <InFilm evaluation={evaluation} />
  if (look === 'knife') return <ByKnife evaluation={evaluation} />
  return <InPieces evaluation={evaluation} />
})

/** The material as it will be. Letters that have moved since are drawn at once: filled, they look as their weld
 * does, which takes their place when it comes. */
function InFilm({ evaluation }: { evaluation: Evaluation }) {
  const recipe = useDesign((s) => s.recipe)
  const ahead = aheadOf(evaluation, recipe)
  const moved = ahead && ahead.size > 0 ? ahead : null
  if (!moved) return evaluation.films.map((film) => <FilmOutline key={film.colour} film={film} />)
  return evaluation.films.map((film) => (
    <g key={film.colour} fill={film.colour} data-ahead>
      {evaluation.parts
        .filter((part) => part.film === film.colour)
        .map((part) => (
          <PartAhead key={part.id} part={part} shifts={moved.get(part.id)} />
        ))}
    </g>
  ))
}

const FilmOutline = memo(function FilmOutline({ film }: { film: Film }) {
  return (
    <g fill={film.colour} data-film>
      {film.clusters.map((cluster) => (
        <ClusterOutline key={cluster.key} cluster={cluster} />
      ))}
    </g>
  )
})

const ClusterOutline = memo(function ClusterOutline({ cluster }: { cluster: Cluster }) {
  return cluster.pieces.map((piece) => <path key={piece.d} d={piece.d} data-piece />)
})

/** Letters, and all that ties them, before the weld has followed. */
function PartAhead({ part, shifts }: { part: Part; shifts: Shifts | undefined }) {
  return (
    <>
      {part.letters.map((letter) => (
        <path
          key={letter.id}
          d={letter.d}
          transform={letterTransform(part, letter, shiftOf(shifts, letter.id))}
          data-moved={shifts?.has(letter.id)}
        />
      ))}
      <g transform={transformOf(part.place)}>
        {part.made?.extras.map(({ d, letter }) => {
          const { dx, dy } = shiftOf(shifts, letter ?? -1)
          return <path key={d} d={d} transform={`translate(${dx} ${dy})`} />
        })}
      </g>
    </>
  )
}

/** The letters' own outlines, as lines. */
export function LetterLines({ evaluation }: { evaluation: Evaluation }) {
  return evaluation.parts.flatMap((part) =>
    part.letters.map((letter) => (
      <path
        key={`${part.id} ${letter.id}`}
        d={letter.d}
        transform={letterTransform(part, letter)}
        vectorEffect="non-scaling-stroke"
      />
    )),
  )
}

/** What is cut, and what the weld removed as a faint trace. */
function ByKnife({ evaluation }: { evaluation: Evaluation }) {
  return (
    <>
      <g
        fill="none"
        stroke="var(--chakra-colors-edge)"
        strokeDasharray="2.5 2.5"
        strokeWidth="1.25"
        data-trace
      >
        <LetterLines evaluation={evaluation} />
      </g>
      <g fill="none" stroke={KNIFE_INK} strokeWidth="1.75" strokeLinejoin="round">
        {piecesOf(evaluation).map((piece) => (
          <path key={piece.d} d={piece.d} vectorEffect="non-scaling-stroke" data-piece />
        ))}
      </g>
    </>
  )
}

function InPieces({ evaluation }: { evaluation: Evaluation }) {
  const { scale, side } = useView()
  const pieces = piecesOf(evaluation)
    .map((piece) => ({ piece, at: side * (piece.box.x + (side < 0 ? piece.box.width : 0)) }))
    .sort((a, b) => a.at - b.at)
  return pieces.map(({ piece }, index) => (
    <g key={piece.d}>
      <path d={piece.d} fill={PIECE_TINTS[index % PIECE_TINTS.length]} data-piece />
      <PieceNumber
        number={index + 1}
        x={piece.box.x + piece.box.width / 2}
        y={piece.box.y}
        scale={`${side / scale} ${1 / scale}`}
      />
    </g>
  ))
}

/** The piece's number on a small tag at its top edge; the same size at any zoom. */
function PieceNumber({ number, x, y, scale }: { number: number; x: number; y: number; scale: string }) {
  return (
    <g transform={`translate(${x} ${y}) scale(${scale})`}>
      <circle
        r="10"
        cy="-13"
        fill="var(--chakra-colors-card)"
        stroke="var(--chakra-colors-ink)"
        strokeWidth="1.25"
      />
      <text
        y="-9"
        textAnchor="middle"
        style={{ fontSize: 12 }}
        fontWeight="650"
        fill="var(--chakra-colors-ink)"
      >
        {number}
      </text>
    </g>
  )
}

/** The edge of every film's weld, over whatever lies inside it. */
export const WeldEdges = memo(function WeldEdges({ evaluation, look }: Props) {
  return evaluation.films.map((film) => (
    <path
      key={film.colour}
      d={outlineOf(film)}
      stroke={look === 'film' ? film.colour : KNIFE_INK}
      strokeWidth="1.75"
      vectorEffect="non-scaling-stroke"
    />
  ))
})
