import { memo } from 'react'
import { letterTransform, type Part, transformOf } from '../../shared/evaluation/evaluation'
import { MarkPath } from '../../shared/view/MarkPath'

/** A small picture of a part as it lies on the work. */
export const PartPicture = memo(function PartPicture({ part }: { part: Part | undefined }) {
  if (!part?.made || !part.box) return <svg width="100%" height="100%" aria-hidden="true" />
  const { box } = part
  const margin = Math.max(box.width, box.height) * 0.04 || 1
  const view = [box.x - margin, box.y - margin, box.width + 2 * margin, box.height + 2 * margin]
  return (
    <svg width="100%" height="100%" viewBox={view.join(' ')} aria-hidden="true">
      {part.use === 'cut' && <CutPart part={part} made={part.made} />}
      <g transform={transformOf(part.place)}>
        {part.marks.map((mark) => (
          <MarkPath key={mark.d} mark={mark} />
        ))}
      </g>
    </svg>
  )
})

function CutPart({ part, made }: { part: Part; made: NonNullable<Part['made']> }) {
  return (
    <>
      <g fill={part.film}>
        {part.letters
          .filter((letter) => letter.own_film)
          .map((letter) => (
            <path key={letter.id} d={letter.d} transform={letterTransform(part, letter)} />
          ))}
      </g>
      <g transform={transformOf(part.place)}>
        {made.extras.map(({ d }) => (
          <path key={d} d={d} fill={part.film} />
        ))}
        {made.bodies.map((body) => (
          <path key={body.d} d={body.d} fill={body.film ?? part.film} />
        ))}
      </g>
    </>
  )
}
