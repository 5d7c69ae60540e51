import { memo } from 'react'
import { useDesign } from '../design/store'
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
import { type OptimisticMove, optimisticMovesOf, shiftOf } from '../evaluation/optimisticMoves'
import { KNIFE_INK, PIECE_TINTS } from '../theme'
import { MarkPath } from './MarkPath'
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
  const ahead = optimisticMovesOf(evaluation, recipe)
  const moved = ahead && ahead.size > 0 ? ahead : null
  if (!moved)
    return (
      <>
        {evaluation.films.map((film) => (
          <FilmOutline key={film.colour} film={film} />
        ))}
        <Uncut evaluation={evaluation} />
      </>
    )
  return (
    <g data-ahead>
      {filmsAhead(evaluation).map((film) => (
        <g key={film} fill={film}>
          {evaluation.parts
            .filter((part) => part.shown && part.within === null && part.use === 'cut')
            .map((part) => (
              <PartAhead key={part.id} part={part} film={film} ahead={moved.get(part.id)} />
            ))}
        </g>
      ))}
      <Uncut evaluation={evaluation} ahead={moved} />
    </g>
  )
}

const filmsAhead = (evaluation: Evaluation) => evaluation.films.map((film) => film.colour)

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

interface PartAheadProps {
  part: Part
  film: string
  ahead: OptimisticMove | undefined
}

/** What of a part is cut from a film, before the weld has followed: letters, all that ties them, and bodies. */
const PartAhead = memo(function PartAhead({ part, film, ahead }: PartAheadProps) {
  const lies = ahead ? { ...part, place: ahead.place } : part
  const own = part.film === film
  return (
    <>
      {own &&
        part.letters
          .filter((letter) => letter.own_film)
          .map((letter) => (
            <path
              key={letter.id}
              d={letter.d}
              transform={letterTransform(lies, letter, shiftOf(ahead?.shifts, letter.id))}
              data-moved={ahead?.shifts.has(letter.id)}
            />
          ))}
      <g transform={transformOf(lies.place)} data-moved-part={ahead !== undefined}>
        {own &&
          part.made?.extras.map(({ d, letter }) => {
            const { dx, dy } = shiftOf(ahead?.shifts, letter ?? -1)
            return <path key={d} d={d} transform={`translate(${dx} ${dy})`} />
          })}
        {part.made?.bodies
          .filter((body) => (body.film ?? part.film) === film)
          .map((body) => (
            <path key={body.d} d={body.d} />
          ))}
      </g>
    </>
  )
})

/** What is not cut: engraved, drawn, scored, or only seen here. */
function Uncut({
  evaluation,
  ahead,
}: {
  evaluation: Evaluation
  ahead?: ReadonlyMap<string, OptimisticMove>
}) {
  return evaluation.parts
    .filter((part) => part.shown && part.within === null && part.marks.length > 0)
    .map((part) => (
      <g key={part.id} transform={transformOf(ahead?.get(part.id)?.place ?? part.place)} data-uncut>
        {part.marks.map((mark) => (
          <MarkPath key={mark.d} mark={mark} />
        ))}
      </g>
    ))
}

const shownParts = (evaluation: Evaluation) => evaluation.parts.filter((part) => part.shown)

/** The letters' own outlines, as lines. */
export function LetterLines({ evaluation }: { evaluation: Evaluation }) {
  return shownParts(evaluation).flatMap((part) =>
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

/** The outlines of members and of parts that are no lettering, as they are before the weld. */
function BodyLines({ evaluation }: { evaluation: Evaluation }) {
  return shownParts(evaluation).flatMap((part) =>
    (part.made?.bodies ?? []).map((body) => (
      <path
        key={`${part.id} ${body.d}`}
        d={body.d}
        transform={transformOf(part.place)}
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
        <BodyLines evaluation={evaluation} />
      </g>
      <Uncut evaluation={evaluation} />
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
