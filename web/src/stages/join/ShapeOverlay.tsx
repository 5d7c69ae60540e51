import { chakra } from '@chakra-ui/react'
import { type PointerEvent, useEffect, useRef, useState } from 'react'
import type { Lettering } from '../../shared/design/recipe'
import { chooseNodes, closeShape, selectionNow, useOpenShape } from '../../shared/design/selection'
import { asOneStep, editOnce, partNow } from '../../shared/design/store'
import { type Spot, useProjection, useSteps, useView } from '../../shared/view/view'
import { DraggedLetter, type NodeDrag } from './DraggedLetter'
import { EndGrip, heldAlong } from './EndGrip'
import { addEdit, editNodes, inShares, type LetterNodes, moveNodes, useNodes } from './shapes'

const Ground = chakra('rect', { base: { cursor: 'default' } })
const Corner = chakra('path', { base: { cursor: 'move' } })
const Dot = chakra('circle', { base: { cursor: 'move' } })

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
            <g key={`${node.name} ${side}`}>
              <path
                d={`M${here.x} ${here.y}L${there.x} ${there.y}`}
                stroke="var(--chakra-colors-knife)"
                strokeWidth="1.25"
              />
              <Dot
                cx={there.x}
                cy={there.y}
                r="4.5"
                fill="var(--chakra-colors-knife)"
                stroke="var(--chakra-colors-card)"
                strokeWidth="1.5"
                data-handle={side}
                onPointerDown={(event) => begin(event, side, [node.name], null)}
              />
            </g>
          )
        }),
      )}
      {shown.nodes.map((node) => {
        const here = placeOf(node)
        const picked = chosen.includes(node.name)
        const look = {
          fill: picked ? 'var(--chakra-colors-knife)' : 'var(--chakra-colors-card)',
          stroke: picked ? 'var(--chakra-colors-card)' : 'var(--chakra-colors-ink)',
          strokeWidth: 1.5,
          'data-node': node.name,
          'data-chosen': picked,
          onPointerDown: (event: PointerEvent<SVGElement>) => onNode(event, node),
        }
        return node.smooth ? (
          <Dot key={node.name} cx={here.x} cy={here.y} r="4.5" {...look} />
        ) : (
          <Corner key={node.name} d={`M${here.x - 4} ${here.y - 4}h8v8h-8z`} {...look} />
        )
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

const ARROWS: Record<string, Spot> = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: -1 },
  ArrowDown: { x: 0, y: 1 },
}

/** Arrow keys move the chosen points, Delete takes them out, Escape lets go of them, then of the letter. */
function useShapeKeys(nodes: LetterNodes | undefined) {
  useEffect(() => {
    function onKey(event: KeyboardEvent) {
      const target = event.target
      if (target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement) return
      if (event.ctrlKey || event.metaKey || !nodes) return
      const open = selectionNow()
      if (open.kind !== 'shape') return
      const chosen = open.nodes
      const arrow = ARROWS[event.key]
      if (event.key === 'Escape') {
        if (chosen.length > 0) chooseNodes([])
        else closeShape()
      } else if (arrow && chosen.length > 0) {
        const step = useSteps.getState().stepMm * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1)
        moveNodes(nodes, useView.getState().side * arrow.x * step, arrow.y * step)
      } else if ((event.key === 'Delete' || event.key === 'Backspace') && chosen.length > 0) {
        asOneStep(() => editNodes(nodes, { kind: 'remove', nodes: [...chosen] }))
        chooseNodes([])
      } else return
      event.preventDefault()
      event.stopImmediatePropagation()
    }
    // Before the bench's own keys.
    window.addEventListener('keydown', onKey, true)
    return () => window.removeEventListener('keydown', onKey, true)
  }, [nodes])
}
