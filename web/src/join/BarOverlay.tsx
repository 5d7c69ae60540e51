import { chakra } from '@chakra-ui/react'
import { type PointerEvent, useEffect, useRef, useState } from 'react'
import type { Evaluation } from '../design/recipe'
import { partNow, useDesign } from '../design/store'
import { useView } from '../workbench/view'
import { useBarProblem } from './BridgeSection'
import { useTools } from './tools'
import { useLayBar } from './useBars'

interface Spot {
  x: number
  y: number
}

const Catcher = chakra('rect', { base: { cursor: 'crosshair' } })
const Grip = chakra('circle', { base: { cursor: 'grab' } })

/** Over the work, in pixels: bridges with grips at their ends, ties, and the bridge being dragged. */
export function BarOverlay({ evaluation }: { evaluation: Evaluation }) {
  const { bridging, bar: chosen, chooseBar, bridge } = useTools()
  const partId = useDesign((s) => s.partId)
  const { scale, x, y, window: size } = useView()
  const { lay, problem } = useLayBar()
  const [drag, setDrag] = useState<{ fixed: Spot; free: Spot } | null>(null)
  const ground = useRef<SVGGElement>(null)

  useEffect(() => useBarProblem.setState({ problem }), [problem])
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'Escape') bridge(false)
    }
    if (bridging) window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [bridging, bridge])

  function spot(event: PointerEvent): Spot {
    const box = ground.current?.ownerSVGElement?.getBoundingClientRect()
    return {
      x: (event.clientX - (box?.left ?? 0) - x) / scale,
      y: (event.clientY - (box?.top ?? 0) - y) / scale,
    }
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
    const bar = number === null ? undefined : partNow().bars?.[number]
    chooseBar(number)
    if (Math.hypot(drag.free.x - drag.fixed.x, drag.free.y - drag.fixed.y) * scale > 4)
      lay({ start: drag.fixed, end: drag.free, ...(bar ? { bar } : {}) })
    setDrag(null)
  }

  const px = (at: Spot) => `${x + at.x * scale} ${y + at.y * scale}`
  const bars = evaluation.bars.filter((b) => b.part === partId)
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
        const picked = bar.number === chosen
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
                cx={x + at.x * scale}
                cy={y + at.y * scale}
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
export function TieMarks({ evaluation }: { evaluation: Evaluation }) {
  return (
    <g pointerEvents="none" fill="none">
      {evaluation.ties.map((tie) => (
        <path
          key={tie.d}
          d={tie.d}
          stroke="var(--chakra-colors-hold)"
          strokeWidth="1.5"
          vectorEffect="non-scaling-stroke"
        />
      ))}
    </g>
  )
}
