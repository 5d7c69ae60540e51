import type { Sample } from '../../shared/faces/useFaces'

interface Props {
  sample: Sample | undefined
  height: number
}

/** Words drawn in a face, as large as their room allows, standing on one baseline. */
export function SampleDrawing({ sample, height }: Props) {
  if (!sample?.d) return <svg width="100%" height={height} aria-hidden="true" />
  const { box } = sample
  return (
    <svg
      width="100%"
      height={height}
      viewBox={`${box.x} ${box.y} ${box.width} ${box.height}`}
      preserveAspectRatio="xMinYMid meet"
      aria-hidden="true"
    >
      <path d={sample.d} fill="currentColor" />
    </svg>
  )
}
