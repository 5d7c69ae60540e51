import { chakra } from '@chakra-ui/react'
import { type PointerEvent, useEffect, useRef, useState } from 'react'
import { useSelection } from '../../shared/design/selection'
import { transformOf } from '../../shared/evaluation/evaluation'
import { useEvaluation } from '../../shared/evaluation/store'
import { type Spot, useProjection, useView } from '../../shared/view/view'
import { layBar } from './useBars'

const Catcher = chakra('rect', { base: { cursor: 'crosshair' } })
const Grip = chakra('circle', { base: { cursor: 'grab' } })

/** Over the work, in pixels: bridges with grips at their ends, and the bridge being dragged. */
export function BarOverlay() {
  const evaluation = useEvaluation()
  const { selection, select, use } = useSelection()
  const bridging = useSelection((s) => s.tool?.kind === 'bridge')
  const size = useView((s) => s.window)
  const { px: pixels, mm, scale } = useProjection()
  const [drag, setDrag] = useState<{ fixed: Spot; free: Spot } | null>(null)
  const ground = useRef<SVGGElement>(null)

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'Escape') use(null)
    }
    if (bridging) window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [bridging, use])

  function spot(event: PointerEvent): Spot {
    const box = ground.current?.ownerSVGElement?.getBoundingClientRect()
    return mm({ x: event.clientX - (box?.left ?? 0), y: event.clientY - (box?.top ?? 0) })
  }

  function begin(event: PointerEvent<SVGElement>, fixed: Spot) {
    if (event.button !== 0) return
    event.stopPropagation()
    event.currentTarget.setPointerCapture(event.pointerId)
    setDrag({ fixed, free: spot(event) })
  }

  function end(event: PointerEvent, number: number | null) {
    if (!drag) return
    event.stopPropagation()
    const part = evaluation?.bridges.find((b) => b.number === number)?.parts[0]
    if (number !== null && part) select({ kind: 'bar', part, bar: number })
    if (Math.hypot(drag.free.x - drag.fixed.x, drag.free.y - drag.fixed.y) * scale > 4)
      void layBar(drag.fixed, drag.free, number)
    setDrag(null)
  }

  const px = (at: Spot) => `${pixels(at).x} ${pixels(at).y}`
  const bars = evaluation?.bridges ?? []
  return (
    <g ref={ground}>
      {bridging && (
        <Catcher
          data-bridging
          width={size.width}
          height={size.height}
          fill="transparent"
          onPointerDown={(event) => begin(event, spot(event))}
          onPointerMove={(event) => drag && setDrag({ ...drag, free: spot(event) })}
          onPointerUp={(event) => end(event, null)}
        />
      )}
      {bars.map((bar) => {
        const [a, b] = bar.ends
        if (!a || !b) return null
        const picked = selection.kind === 'bar' && bar.number === selection.bar
        return (
          <g key={bar.number}>
            <path
              d={`M${px(a)}L${px(b)}`}
              stroke="var(--chakra-colors-card)"
              strokeWidth={picked ? 3 : 2}
              strokeDasharray="2 3"
              pointerEvents="none"
            />
            {[a, b].map((at, n) => (
              <Grip
                // biome-ignore lint/suspicious/noArrayIndexKey: a bar has a start and an end
                key={n}
                data-bar-end
                cx={pixels(at).x}
                cy={pixels(at).y}
                r={picked ? 7 : 5}
                fill="var(--chakra-colors-card)"
                stroke="var(--chakra-colors-ink)"
                strokeWidth="2"
                onPointerDown={(event) => begin(event, n === 0 ? b : a)}
                onPointerMove={(event) => drag && setDrag({ ...drag, free: spot(event) })}
                onPointerUp={(event) => end(event, bar.number)}
              />
            ))}
          </g>
        )
      })}
      {drag && (
        <path
          d={`M${px(drag.fixed)}L${px(drag.free)}`}
          stroke="var(--chakra-colors-knife)"
          strokeWidth="3"
          strokeLinecap="round"
          pointerEvents="none"
        />
      )}
    </g>
  )
}

/** Over the work, in its millimetres: the bridges laid to tie what is loose. */
export function TieMarks() {
  const evaluation = useEvaluation()
  return (
    <g pointerEvents="none" fill="none">
      {evaluation?.parts.map((part) => (
        <g key={part.id} transform={transformOf(part.place)}>
          {part.made?.ties.map((tie) => (
            <path
              key={tie.d}
              d={tie.d}
              stroke="var(--chakra-colors-hold)"
              strokeWidth="1.5"
              vectorEffect="non-scaling-stroke"
            />
          ))}
        </g>
      ))}
    </g>
  )
}
