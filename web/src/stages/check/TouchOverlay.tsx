import { chakra } from '@chakra-ui/react'
import { type PointerEvent, useEffect, useRef, useState } from 'react'
import { type TouchKind, useSelection } from '../../shared/design/selection'
import { type Spot, useProjection, useView } from '../../shared/view/view'
import { nearestNode, nodeAt, placeOf, useOutlineNodes } from './outlineNodes'
import { PointsOverlay } from './PointsOverlay'
import { useTouchSizes } from './TouchUpSection'
import { useLayTouchUp } from './useLayTouchUp'

const Catcher = chakra('rect', { base: { cursor: 'crosshair' } })

/** How near to a point a click must be to mean it, in pixels. */
const REACH = 14

/** Over the work, in pixels, while a touch-up tool is in hand: the outline's points, and what a click does. */
export function TouchOverlay() {
  const tool = useSelection((s) => s.tool)
  if (tool?.kind === 'points') return <PointsOverlay />
  return tool?.kind === 'touch' ? <InHand kind={tool.touch} /> : null
}

function InHand({ kind }: { kind: TouchKind }) {
  const sizes = useTouchSizes((s) => s.sizes)
  const size = useView((s) => s.window)
  const { px, mm, scale } = useProjection()
  const { lay, movedMm } = useLayTouchUp()
  const [first, setFirst] = useState<Spot | null>(null)
  const svg = useRef<SVGRectElement>(null)
  const { contours } = useOutlineNodes()

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
    return nodeAt(contours, nearestNode(contours, at, REACH / scale)) ?? at
  }

  const onPoints = kind === 'smooth' || kind === 'round'

  function up(event: PointerEvent<SVGRectElement>) {
    if (event.button !== 0) return
    event.stopPropagation()
    const at = onPoints ? meant(spot(event)) : spot(event)
    const base = { kind, size_mm: sizes[kind] ?? 0, dx_mm: 0, dy_mm: 0 }
    if (kind === 'smooth') {
      if (first) lay({ ...base, at: placeOf(first), to: placeOf(at) })
      setFirst(first ? null : at)
    } else lay({ ...base, at: placeOf(at) })
  }

  return (
    <g>
      {onPoints &&
        contours
          .flat()
          .map((place) => (
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
      <Catcher
        ref={svg}
        data-touch={kind}
        width={size.width}
        height={size.height}
        fill="transparent"
        onPointerDown={(event) => event.button === 0 && event.stopPropagation()}
        onPointerUp={up}
      />
    </g>
  )
}

function Ring({ at }: { at: Spot }) {
  const { x, y } = useProjection().px(at)
  return <circle cx={x} cy={y} r="6" fill="none" stroke="var(--chakra-colors-knife)" strokeWidth="2" />
}
