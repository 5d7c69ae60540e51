import type { Spot } from '../../shared/view/view'
import type { LetterNodes, ShapeEdit } from './shapes'

type Node = LetterNodes['nodes'][number]

export interface NodeDrag {
  nodes: LetterNodes
  kind: ShapeEdit['kind']
  names: readonly number[]
  from: Spot
  to: Spot
}

/** A letter's own outline with what is dragged where it is by now. */
export function DraggedLetter({ drag, at }: { drag: NodeDrag; at: (place: Spot) => Spot }) {
  const by = { x: drag.to.x - drag.from.x, y: drag.to.y - drag.from.y }
  const px = (place: Spot, moves: boolean) => {
    const { x, y } = at(moves ? { x: place.x + by.x, y: place.y + by.y } : place)
    return `${x.toFixed(1)} ${y.toFixed(1)}`
  }
  const taken = (node: Node, what: NodeDrag['kind']) =>
    (drag.kind === 'move' || drag.kind === what) && drag.names.includes(node.name)
  const all = drag.nodes.nodes
  const contours = [...new Set(all.map((node) => node.contour))]
  let d = ''
  for (const contour of contours) {
    const nodes = all.filter((node) => node.contour === contour)
    nodes.forEach((node, n) => {
      const next = nodes[(n + 1) % nodes.length] ?? node
      const end = px(next, taken(next, 'move'))
      if (n === 0) d += `M${px(node, taken(node, 'move'))}`
      if (!node.after && !next.before) d += `L${end}`
      else
        d += `C${px(node.after ?? node, taken(node, 'after'))} ${px(next.before ?? next, taken(next, 'before'))} ${end}`
    })
    d += 'Z'
  }
  return (
    <g fill="none" pointerEvents="none" data-dragged>
      <path d={d} stroke="var(--chakra-colors-card)" strokeWidth="4" />
      <path d={d} stroke="var(--chakra-colors-knife)" strokeWidth="2" />
    </g>
  )
}
