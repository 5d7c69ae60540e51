import { memo } from 'react'
import { useDesign } from '../../shared/design/store'

/** The photograph under the work, in its millimetres. */
export const PhotoGround = memo(function PhotoGround() {
  const photo = useDesign((s) => s.recipe.photo)
  if (!photo || photo.hidden) return null
  const { image, x, y, width_mm, height_mm, turn, shows } = photo
  return (
    <image
      href={`/api/photos/${image}`}
      x={-width_mm / 2}
      y={-height_mm / 2}
      width={width_mm}
      height={height_mm}
      transform={`translate(${x} ${y}) rotate(${turn ?? 0})`}
      preserveAspectRatio="none"
      opacity={shows ?? 1}
      pointerEvents="none"
      data-photo
    />
  )
})
