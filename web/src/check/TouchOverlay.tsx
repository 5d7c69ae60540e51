import { chakra } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { type PointerEvent, useEffect, useRef, useState } from 'react'
import { answer, api } from '../api/client'
import { type TouchKind, useSelection } from '../design/selection'
import { useDesign } from '../design/store'
import { type Spot, useProjection, useView } from '../workbench/view'
import { useTouchSizes } from './TouchUpSection'
import { useLayTouchUp } from './useLayTouchUp'

const Catcher = chakra('rect', { base: { cursor: 'crosshair' } })

/** How near to a point a click must be to mean it, in pixels. */
const REACH = 14

/** Over the work, in pixels, while a touch-up tool is in hand: the outline's points, and what a click does. */
export function TouchOverlay() {
  const tool = useSelection((s) => s.tool)
  return tool?.kind === 'touch' ? <InHand kind={tool.touch} /> : null
}

function InHand({ kind }: { kind: TouchKind }) {
  const recipe = useDesign((s) => s.recipe)
  const sizes = useTouchSizes((s) => s.sizes)
  const size = useView((s) => s.window)
  const { px, mm, scale } = useProjection()
  const { lay, movedMm } = useLayTouchUp()
  const [first, setFirst] = useState<Spot | null>(null)
  const [drag, setDrag] = useState<{ from: Spot; to: Spot } | null>(null)
  const svg = useRef<SVGRectElement>(null)
  const nodes = useQuery({
    queryKey: ['outline-nodes', recipe],
    queryFn: ({ signal }) => answer(api.POST('/api/outline/nodes', { body: { recipe }, signal })),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 10_000,
  })
  const places = pairs(nodes.data?.places ?? [])

  useEffect(() => useTouchSizes.setState({ movedMm }), [movedMm])
  // biome-ignore lint/correctness/useExhaustiveDependencies: another tool begins anew
  useEffect(() => setFirst(null), [kind])
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'Escape') useSelection.getState().use(null)
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [])

  function spot(event: PointerEvent): Spot {
    const box = svg.current?.getBoundingClientRect()
    return mm({ x: event.clientX - (box?.left ?? 0), y: event.clientY - (box?.top ?? 0) })
  }

  /** The outline's point meant by a click, or the place itself. */
  function meant(at: Spot): Spot {
    let best = at
    let reach = REACH / scale
    for (const place of places) {
      const away = Math.hypot(place.x - at.x, place.y - at.y)
      if (away < reach) {
        best = place
        reach = away
      }
    }
    return best
  }

  const onPoints = kind === 'remove' || kind === 'move' || kind === 'smooth' || kind === 'round'

  function down(event: PointerEvent<SVGRectElement>) {
    if (event.button !== 0) return
    event.stopPropagation()
    if (kind !== 'move') return
    event.currentTarget.setPointerCapture(event.pointerId)
    const from = meant(spot(event))
    setDrag({ from, to: from })
  }

  function up(event: PointerEvent<SVGRectElement>) {
    if (event.button !== 0) return
    event.stopPropagation()
    const at = onPoints ? meant(spot(event)) : spot(event)
    const base = { kind, size_mm: sizes[kind] ?? 0, dx_mm: 0, dy_mm: 0 }
    if (kind === 'move') {
      if (drag) {
        const to = spot(event)
        lay({ ...base, at: drag.from, dx_mm: to.x - drag.from.x, dy_mm: to.y - drag.from.y })
      }
      setDrag(null)
    } else if (kind === 'smooth') {
      if (first) lay({ ...base, at: first, to: at })
      setFirst(first ? null : at)
    } else lay({ ...base, at })
  }

  return (
    <g>
      {onPoints &&
        places.map((place) => (
          <circle
            key={`${place.x} ${place.y}`}
            cx={px(place).x}
            cy={px(place).y}
            r="3"
            fill="var(--chakra-colors-card)"
            stroke="var(--chakra-colors-ink)"
            strokeWidth="1.25"
            data-outline-point
          />
        ))}
      {first && <Ring at={first} />}
      {drag && (
        <path
          d={`M${px(drag.from).x} ${px(drag.from).y}L${px(drag.to).x} ${px(drag.to).y}`}
          stroke="var(--chakra-colors-knife)"
          strokeWidth="2"
        />
      )}
      {drag && <Ring at={drag.to} />}
      <Catcher
        ref={svg}
        data-touch={kind}
        width={size.width}
        height={size.height}
        fill="transparent"
        onPointerDown={down}
        onPointerMove={(event) => drag && setDrag({ ...drag, to: spot(event) })}
        onPointerUp={up}
      />
    </g>
  )
}

function Ring({ at }: { at: Spot }) {
  const { x, y } = useProjection().px(at)
  return <circle cx={x} cy={y} r="6" fill="none" stroke="var(--chakra-colors-knife)" strokeWidth="2" />
}

function pairs(flat: readonly number[]): Spot[] {
  const found: Spot[] = []
  for (let n = 0; n + 1 < flat.length; n += 2) found.push({ x: flat[n] ?? 0, y: flat[n + 1] ?? 0 })
  return found
}
