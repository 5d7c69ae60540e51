import { chakra } from '@chakra-ui/react'
import { type PointerEvent, useEffect, useRef, useState } from 'react'
import { CurveHandle, PointMark } from '../../shared/view/PointMark'
import { type Spot, useProjection, useView } from '../../shared/view/view'
import {
  draggedPath,
  type NodeAt,
  nearestNode,
  nodeAt,
  type OutlineNode,
  type Pull,
  placeOf,
  useOutlineNodes,
} from './outlineNodes'
import { usePointKeys } from './pointKeys'
import { useTouchSizes } from './TouchUpSection'
import { useLayTouchUp } from './useLayTouchUp'

const Ground = chakra('rect', { base: { cursor: 'crosshair' } })

/** How near to a point the pointer must be to mean it, in pixels. */
const REACH_PX = 13
/** A drag begins after so many pixels. */
const START_PX = 3

interface Drag {
  at: NodeAt
  pull: Pull
  from: Spot
  to: Spot
}

/** The outline in hand: its points and curve handles are dragged, put in by a double click, taken out and
 * smoothed by a key while they are pointed at. */
export function PointsOverlay() {
  const { contours, fresh } = useOutlineNodes()
  const size = useView((s) => s.window)
  const { px, mm, scale } = useProjection()
  const { lay, laying, movedMm } = useLayTouchUp()
  const [chosen, choose] = useState<NodeAt | null>(null)
  const [pointed, point] = useState<NodeAt | null>(null)
  const [drag, setDrag] = useState<Drag | null>(null)
  const [letGo, setLetGo] = useState(false)
  const ground = useRef<SVGRectElement>(null)
  const pointer = useRef<Spot | null>(null)

  useEffect(() => useTouchSizes.setState({ movedMm }), [movedMm])
  // What was drawn for the drag stays until the outline as it is now has come.
  useEffect(() => {
    if (letGo && !laying && fresh) {
      setDrag(null)
      setLetGo(false)
    }
  }, [letGo, laying, fresh])

  // A point that was just put in is pointed at, though the pointer has not moved since.
  useEffect(() => {
    if (pointer.current) point(nearestNode(contours, pointer.current, REACH_PX / scale))
  }, [contours, scale])

  const meant = pointed ?? chosen
  const act = (kind: 'remove' | 'smooth', at: NodeAt) => {
    const node = nodeAt(contours, at)
    if (!node) return
    lay({ ...PLAIN, kind, at: placeOf(node), to: kind === 'smooth' ? placeOf(node) : null })
    choose(null)
    point(null)
  }
  usePointKeys(meant, act, chosen !== null ? () => choose(null) : null)

  function spot(event: { clientX: number; clientY: number }): Spot {
    const box = ground.current?.getBoundingClientRect()
    return mm({ x: event.clientX - (box?.left ?? 0), y: event.clientY - (box?.top ?? 0) })
  }

  function begin(event: PointerEvent<SVGElement>, at: NodeAt, pull: Pull) {
    if (event.button !== 0) return
    event.stopPropagation()
    choose(at)
    // One touch-up after the other: until the last one is there, a point is only chosen.
    if (laying) return
    event.currentTarget.setPointerCapture(event.pointerId)
    // The work stays where it is under the hand.
    useView.setState({ fitted: false })
    const from = spot(event)
    setDrag({ at, pull, from, to: from })
  }

  function move(event: PointerEvent) {
    if (drag && !letGo) {
      const to = spot(event)
      const far = Math.hypot(to.x - drag.from.x, to.y - drag.from.y) * scale
      if (far > START_PX || drag.to !== drag.from) setDrag({ ...drag, to })
    } else if (!drag) {
      pointer.current = spot(event)
      point(nearestNode(contours, pointer.current, REACH_PX / scale))
    }
  }

  function up() {
    if (!drag || letGo) return
    const node = nodeAt(contours, drag.at)
    if (drag.to === drag.from || !node) return setDrag(null)
    const [dx_mm, dy_mm] = [drag.to.x - drag.from.x, drag.to.y - drag.from.y]
    setLetGo(true)
    lay({ ...PLAIN, kind: drag.pull, at: placeOf(node), dx_mm, dy_mm }, () => setDrag(null))
  }

  const window = { low: mm({ x: 0, y: 0 }), high: mm({ x: size.width, y: size.height }) }
  const shown = chosen && nodeAt(contours, chosen)
  const by = drag ? { x: drag.to.x - drag.from.x, y: drag.to.y - drag.from.y } : { x: 0, y: 0 }
  return (
    <g onPointerMove={move} onPointerUp={up} data-points>
      <Ground
        ref={ground}
        data-touch="points"
        width={size.width}
        height={size.height}
        fill="transparent"
        onPointerDown={(event) => {
          if (event.button !== 0) return
          event.stopPropagation()
          const at = nearestNode(contours, spot(event), REACH_PX / scale)
          if (at) begin(event, at, 'move')
          else choose(null)
        }}
        onDoubleClick={(event) => {
          if (nearestNode(contours, spot(event), REACH_PX / scale)) return
          lay({ ...PLAIN, kind: 'insert', at: spot(event) })
        }}
      />
      {drag && drag.to !== drag.from && (
        <g fill="none" pointerEvents="none" data-dragged>
          <path
            d={draggedPath(contours, drag.at, drag.pull, by, px)}
            stroke="var(--chakra-colors-card)"
            strokeWidth="4"
          />
          <path
            d={draggedPath(contours, drag.at, drag.pull, by, px)}
            stroke="var(--chakra-colors-knife)"
            strokeWidth="2"
          />
        </g>
      )}
      {shown &&
        chosen &&
        (['before', 'after'] as const).map((pull) => {
          const handle = shown[pull]
          if (!handle) return null
          const carried = drag && (drag.pull === 'move' || drag.pull === pull) ? by : { x: 0, y: 0 }
          const root = drag?.pull === 'move' ? by : { x: 0, y: 0 }
          const here = px({ x: shown.x + root.x, y: shown.y + root.y })
          const there = px({ x: handle.x + carried.x, y: handle.y + carried.y })
          return (
            <CurveHandle
              key={pull}
              from={here}
              to={there}
              side={pull}
              onPointerDown={(event) => begin(event, chosen, pull)}
            />
          )
        })}
      {contours.map((nodes, contour) =>
        nodes.map((node, place) => {
          if (!inWindow(node, window)) return null
          const at = { contour, place }
          const moving = drag !== null && drag.pull === 'move' && isSame(drag.at, at)
          const here = px(moving ? { x: node.x + by.x, y: node.y + by.y } : node)
          const lit = isSame(meant, at)
          const look = {
            fill: isSame(chosen, at) ? 'var(--chakra-colors-knife)' : 'var(--chakra-colors-card)',
            stroke: lit ? 'var(--chakra-colors-knife)' : 'var(--chakra-colors-ink)',
            strokeWidth: lit ? 2.5 : 1.25,
            'data-outline-point': '',
            'data-pointed': lit,
            pointerEvents: 'none' as const,
          }
          const half = lit ? (node.smooth ? 5 : 4.5) : node.smooth ? 3.5 : 3
          return <PointMark key={nameOf(at)} at={here} smooth={node.smooth} half={half} look={look} />
        }),
      )}
    </g>
  )
}

const PLAIN = { size_mm: 0, dx_mm: 0, dy_mm: 0 }

/** A point is known by its place in the outline. */
const nameOf = ({ contour, place }: NodeAt) => `${contour} ${place}`

const isSame = (one: NodeAt | null, other: NodeAt) =>
  one?.contour === other.contour && one.place === other.place

function inWindow({ x, y }: OutlineNode, { low, high }: { low: Spot; high: Spot }): boolean {
  return (
    x >= Math.min(low.x, high.x) &&
    x <= Math.max(low.x, high.x) &&
    y >= Math.min(low.y, high.y) &&
    y <= Math.max(low.y, high.y)
  )
}
