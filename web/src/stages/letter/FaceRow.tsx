import { Star } from 'lucide-react'
import { memo } from 'react'
import type { FaceOut, Unit } from '../../shared/design/recipe'
import { showNumber } from '../../shared/design/units'
import { useSample } from '../../shared/faces/useFaces'
import { type Joins, joinsIn, KIND_NAMES } from './faceChoice'
import { RatingProgress } from './OwnFaces'
import { SampleDrawing } from './SampleDrawing'

/** Pixels: how high a row is. */
export const ROW_HIGH = 118

interface Props {
  face: FaceOut
  text: string
  chosen: boolean
  /** How far down the list it stands, in pixels; which of how many it is. */
  top: number
  place: number
  of: number
  onChoose: (face: FaceOut) => void
  onTake: () => void
  /** The size in use, which says how thin the thinnest stroke is. */
  sizeMm: number | undefined
  unit: Unit
  /** The writing system of the words. */
  system: string
}

/** A face with the typed word, and what is measured of it. */
export const FaceRow = memo(function FaceRow(props: Props) {
  const { face, text, chosen, top, place, of, onChoose, onTake, sizeMm, unit, system } = props
  const sample = useSample(text, face.slug)
  const lacks = sample?.lacks ?? []
  const joins = joinsIn(face, system)
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the panel around the list hears the keys
    <div
      role="option"
      style={{ transform: `translateY(${top}px)` }}
      aria-selected={chosen}
      aria-posinset={place}
      aria-setsize={of}
      aria-label={face.name}
      data-face={face.slug}
      data-lacks={lacks.length > 0 || undefined}
      tabIndex={-1}
      onClick={() => onChoose(face)}
      onDoubleClick={onTake}
    >
      <SampleDrawing sample={sample} height={52} />
      <div className="known">
        <span className="name">
          {face.favourite && <Star size={13} fill="currentColor" aria-label="a favourite" />}
          {face.name}
        </span>
        <span className="told">
          {lacks.length > 0 ? `has no ${lacks.slice(0, 4).join(' ')}` : about(face)}
        </span>
      </div>
      <div className="measured">
        {joins ? (
          <>
            <span data-joins={joins.words}>{joining(joins)}</span>
            {sizeMm !== undefined && <span className="lengths">{measures(joins, sizeMm, unit)}</span>}
          </>
        ) : (
          <RatingProgress share={face.rated_share} />
        )}
      </div>
    </div>
  )
})

/** "joins by itself: 97 %, capitals 48 %". */
function joining(joins: Joins): string {
  const percent = (share: number) => `${Math.round(share * 100)} %`
  const capitals = joins.capital > 0 ? `, capitals ${percent(joins.capital)}` : ''
  return `${joins.words}: ${percent(joins.small)}${capitals}`
}

/** "strokes 0.6, counters 1.1 mm": the thinnest and the smallest. */
function measures(joins: Joins, sizeMm: number, unit: Unit): string {
  const length = (share: number) => showNumber(share * sizeMm, unit, unit === 'in' ? 3 : 1)
  const counters = joins.counter > 0 ? `, counters ${length(joins.counter)}` : ''
  return `strokes ${length(joins.thinnest)}${counters} ${unit}`
}

function about(face: FaceOut): string {
  const kind = KIND_NAMES[face.kind] ?? face.kind
  if (face.axes.some((a) => a.tag === 'wght')) return `${kind}, any weight`
  return face.weights.length > 1 ? `${kind}, ${face.weights.length} weights` : kind
}
