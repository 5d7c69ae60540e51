import { useEffect, useState } from 'react'
import { holdStep, useDesign } from '../../shared/design/store'
import { type Spot, useProjection, useView } from '../../shared/view/view'
import { editPhoto } from './photo'
import { useBuild } from './store'
import { follow } from './usePartDrag'

/** Over the work while the photograph is in hand: it is dragged, or two places on it are pointed at. */
export function PhotoOverlay() {
  const tool = useBuild((s) => s.photoTool)
  const size = useView((s) => s.window)
  const spots = useBuild((s) => s.photoSpots)
  const { px } = useProjection()
  const [now, setNow] = useState<Spot | null>(null)
  const { mm } = useProjection()
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || !useBuild.getState().photoTool) return
      useBuild.getState().handlePhoto(null)
      event.stopImmediatePropagation()
    }
    window.addEventListener('keydown', onKey, true)
    return () => window.removeEventListener('keydown', onKey, true)
  }, [])
  if (!tool) return null
  const ends = [...spots, ...(spots.length === 1 && now ? [now] : [])].map(px)
  return (
    <g data-photo-tool={tool}>
      <rect
        width={size.width}
        height={size.height}
        fill="transparent"
        style={{ cursor: tool === 'move' ? 'move' : 'crosshair' }}
        onPointerMove={(event) => {
          const box = event.currentTarget.getBoundingClientRect()
          if (tool === 'scale') setNow(mm({ x: event.clientX - box.left, y: event.clientY - box.top }))
        }}
        onPointerDown={(event) => {
          if (event.button !== 0) return
          if (tool === 'move') {
            const before = useDesign.getState().recipe.photo
            return follow(event, (to, _, from) => {
              if (before) editPhoto({ x: before.x + to.x - from.x, y: before.y + to.y - from.y })
            })
          }
          event.stopPropagation()
          const box = event.currentTarget.getBoundingClientRect()
          const at = mm({ x: event.clientX - box.left, y: event.clientY - box.top })
          useBuild.setState({ photoSpots: spots.length >= 2 ? [at] : [...spots, at] })
        }}
        onPointerUp={() => holdStep(false)}
      />
      {ends[0] && ends[1] && (
        <path
          d={`M${ends[0].x} ${ends[0].y}L${ends[1].x} ${ends[1].y}`}
          stroke="var(--chakra-colors-knife)"
          strokeWidth="2"
          pointerEvents="none"
        />
      )}
      {ends.map((at) => (
        <circle
          key={`${at.x} ${at.y}`}
          cx={at.x}
          cy={at.y}
          r="6"
          fill="var(--chakra-colors-card)"
          stroke="var(--chakra-colors-knife)"
          strokeWidth="2"
          pointerEvents="none"
        />
      ))}
    </g>
  )
}
