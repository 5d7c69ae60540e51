import { chakra } from '@chakra-ui/react'
import { type PointerEvent, useEffect, useRef, useState } from 'react'
import type { Lettering } from '../../shared/design/recipe'
import { chooseNodes, useOpenShape } from '../../shared/design/selection'
import { asOneStep, editOnce, partNow } from '../../shared/design/store'
import { CurveHandle, PointMark } from '../../shared/view/PointMark'
import { type Spot, useProjection, useView } from '../../shared/view/view'
import { DraggedLetter, type NodeDrag } from './DraggedLetter'
import { EndGrip, heldAlong } from './EndGrip'
import { useShapeKeys } from './shapeKeys'
import { addEdit, inShares, type LetterNodes, useNodes } from './shapes'

const Ground = chakra('rect', { base: { cursor: 'default' } })

interface Drag extends NodeDrag {
  part: Lettering
  /** A chosen node that Shift and a click lets go of, unless it is dragged. */
  letGoOf?: number
  /** A stroke end goes along its own direction only. */
  along: Spot | null
}

type Node = LetterNodes['nodes'][number]

/** Over the work, in pixels: the open letter's points, handles and stroke ends. */
export function ShapeOverlay() {
  const open = useOpenShape()
  return open ? <OpenShape {...open} /> : null
}

type Open = NonNullable<ReturnType<typeof useOpenShape>>

function OpenShape({ part: partId, letter: id, nodes: chosen, end: chosenEnd, ofKind }: Open) {
  const { nodes, fresh } = useNodes(partId, id)
  const size = useView((s) => s.window)
  const { px: at, mm } = useProjection()
  const ground = useRef<SVGRectElement>(null)
  const [drag, setDrag] = useState<Drag | null>(null)
  const [marquee, setMarquee] = useState<{ from: Spot; to: Spot } | null>(null)
  useShapeKeys(nodes)
  // When the letter as it is now has come, what was drawn for the drag is not needed any more.
  const [letGo, setLetGo] = useState(false)
  useEffect(() => {
    if (letGo && fresh) {
      setDrag(null)
      setLetGo(false)
    }
  }, [letGo, fresh])
  if (!nodes) return null
  const shown = drag?.nodes ?? nodes

  function spot(event: PointerEvent): Spot {
    const box = ground.current?.getBoundingClientRect()
    return mm({ x: event.clientX - (box?.left ?? 0), y: event.clientY - (box?.top ?? 0) })
  }

  function begin(
    event: PointerEvent<SVGElement>,
    kind: Drag['kind'],
    names: number[],
    along: Spot | null,
    letGoOf?: number,
  ) {
    if (event.button !== 0 || !nodes) return
    event.stopPropagation()
    event.currentTarget.setPointerCapture(event.pointerId)
    const from = spot(event)
    setLetGo(false)
    // The work stays where it is under the hand.
    useView.setState({ fitted: false })
    setDrag({
      part: partNow(),
      nodes,
      kind,
      names,
      along,
      from,
      to: from,
      ...(letGoOf === undefined ? {} : { letGoOf }),
    })
  }

  function move(event: PointerEvent) {
    if (marquee) setMarquee({ ...marquee, to: spot(event) })
    if (!drag || letGo) return
    setDrag({ ...drag, to: heldAlong(drag.along, drag.from, spot(event), event.shiftKey) })
  }

  /** The letter is drawn as it is dragged; the words are joined and welded anew when it is let go. */
  function take({ part, nodes: before, kind, names, from, to }: Drag) {
    const by = inShares(before, to.x - from.x, to.y - from.y)
    const edit = { kind, nodes: [...names], time: 0.5, new: 0, ...by }
    editOnce(addEdit(part, id, before, edit, ofKind), part.id)
    asOneStep(() => setLetGo(true))
  }

  function up(event: PointerEvent) {
    if (drag && !letGo) {
      if (drag.to === drag.from) {
        setDrag(null)
        if (drag.letGoOf !== undefined) chooseNodes(chosen.filter((n) => n !== drag.letGoOf))
      } else take(drag)
    }
    if (marquee && nodes) {
      const inside = nodes.nodes.filter((n) => within(n, marquee)).map((n) => n.name)
      chooseNodes(event.shiftKey ? [...new Set([...chosen, ...inside])] : inside)
      setMarquee(null)
    }
  }

  function onNode(event: PointerEvent<SVGElement>, node: Node) {
    const was = chosen.includes(node.name)
    const names = was ? [...chosen] : event.shiftKey ? [...chosen, node.name] : [node.name]
    chooseNodes(names)
    begin(event, 'move', names, null, was && event.shiftKey ? node.name : undefined)
  }

  const moved = (name: number): Spot =>
    drag && drag.kind === 'move' && drag.names.includes(name)
      ? { x: drag.to.x - drag.from.x, y: drag.to.y - drag.from.y }
      : { x: 0, y: 0 }
  const placeOf = (node: Node) => {
    const by = moved(node.name)
    return at({ x: node.x + by.x, y: node.y + by.y })
  }
  const few = shown.nodes.filter((n) => chosen.includes(n.name))

  return (
    <g onPointerMove={move} onPointerUp={up} data-shape>
      <Ground
        ref={ground}
        width={size.width}
        height={size.height}
        fill="transparent"
        onPointerDown={(event) => {
          if (event.button !== 0) return
          event.stopPropagation()
          event.currentTarget.setPointerCapture(event.pointerId)
          const from = spot(event)
          setMarquee({ from, to: from })
        }}
      />
      {drag && drag.to !== drag.from && <DraggedLetter drag={drag} at={at} />}
      {few.map((node) =>
        (['before', 'after'] as const).map((side) => {
          const handle = node[side]
          if (!handle) return null
          const here = placeOf(node)
          const pulled = drag && drag.kind === side && drag.names.includes(node.name)
          const by = pulled ? { x: drag.to.x - drag.from.x, y: drag.to.y - drag.from.y } : moved(node.name)
          const there = at({ x: handle.x + by.x, y: handle.y + by.y })
          return (
            <CurveHandle
              key={`${node.name} ${side}`}
              from={here}
              to={there}
              side={side}
              onPointerDown={(event) => begin(event, side, [node.name], null)}
            />
          )
        }),
      )}
      {shown.nodes.map((node) => {
        const picked = chosen.includes(node.name)
        const look = {
          fill: picked ? 'var(--chakra-colors-knife)' : 'var(--chakra-colors-card)',
          stroke: picked ? 'var(--chakra-colors-card)' : 'var(--chakra-colors-ink)',
          strokeWidth: 1.5,
          'data-node': node.name,
          'data-chosen': picked,
          onPointerDown: (event: PointerEvent<SVGElement>) => onNode(event, node),
        }
        const half = node.smooth ? 4.5 : 4
        return <PointMark key={node.name} at={placeOf(node)} smooth={node.smooth} half={half} look={look} />
      })}
      {shown.ends.map((end, number) => {
        const by = end.nodes[0] === undefined ? { x: 0, y: 0 } : moved(end.nodes[0])
        return (
          <EndGrip
            // biome-ignore lint/suspicious/noArrayIndexKey: ends are told by their numbers
            key={number}
            end={end}
            number={number}
            by={by}
            chosen={number === chosenEnd}
            named={shown.ends.length > 1}
            onPointerDown={(event) => {
              chooseNodes(end.nodes, number)
              begin(event, 'move', [...end.nodes], { x: end.dx, y: end.dy })
            }}
          />
        )
      })}
      {marquee && <Marquee from={at(marquee.from)} to={at(marquee.to)} />}
    </g>
  )
}

function Marquee({ from, to }: { from: Spot; to: Spot }) {
  return (
    <rect
      x={Math.min(from.x, to.x)}
      y={Math.min(from.y, to.y)}
      width={Math.abs(to.x - from.x)}
      height={Math.abs(to.y - from.y)}
      fill="var(--chakra-colors-ink)"
      fillOpacity="0.06"
      stroke="var(--chakra-colors-ink)"
      strokeDasharray="4 3"
      pointerEvents="none"
    />
  )
}

function within(node: Node, { from, to }: { from: Spot; to: Spot }): boolean {
  const between = (v: number, a: number, b: number) => v >= Math.min(a, b) && v <= Math.max(a, b)
  return between(node.x, from.x, to.x) && between(node.y, from.y, to.y)
}
