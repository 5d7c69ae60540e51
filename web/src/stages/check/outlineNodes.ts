// The points of the welded outline, and how it runs while one of them is dragged.

import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { answer, api, type Schemas } from '../../shared/api/client'
import { useDesign } from '../../shared/design/store'
import type { Spot } from '../../shared/view/view'

export type OutlineNode = Schemas['OutlineNodeOut']

/** A node by its contour and its place in that. */
export interface NodeAt {
  contour: number
  place: number
}

export type Pull = 'move' | 'before' | 'after'

const NONE: OutlineNode[][] = []

/** The nodes of the outline as the design is now; those of a moment ago while they are worked out. */
export function useOutlineNodes(): { contours: readonly OutlineNode[][]; fresh: boolean } {
  const recipe = useDesign((s) => s.recipe)
  const query = useQuery({
    queryKey: ['outline-nodes', recipe],
    queryFn: ({ signal }) => answer(api.POST('/api/outline/nodes', { body: { recipe }, signal })),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 10_000,
  })
  return { contours: query.data?.contours ?? NONE, fresh: query.isSuccess && !query.isPlaceholderData }
}

export const nodeAt = (contours: readonly OutlineNode[][], at: NodeAt | null): OutlineNode | undefined =>
  at ? contours[at.contour]?.[at.place] : undefined

/** A place and nothing else of what lies there. */
export const placeOf = ({ x, y }: Spot): Spot => ({ x, y })

/** The node nearest to a place, within a reach. */
export function nearestNode(contours: readonly OutlineNode[][], to: Spot, reach: number): NodeAt | null {
  let best: NodeAt | null = null
  let least = reach
  contours.forEach((nodes, contour) => {
    nodes.forEach((node, place) => {
      const away = Math.hypot(node.x - to.x, node.y - to.y)
      if (away < least) {
        best = { contour, place }
        least = away
      }
    })
  })
  return best
}

const shifted = (at: Spot | null, by: Spot): Spot | null => at && { x: at.x + by.x, y: at.y + by.y }

/** A node as it is while it, or one of its handles, is dragged. */
function pulled(node: OutlineNode, pull: Pull, by: Spot): OutlineNode {
  if (pull === 'move') {
    const at = { x: node.x + by.x, y: node.y + by.y }
    return { ...node, ...at, before: shifted(node.before, by), after: shifted(node.after, by) }
  }
  const handle = shifted(node[pull] ?? node, by)
  const other = pull === 'before' ? 'after' : 'before'
  return {
    ...node,
    [pull]: handle,
    [other]: node.smooth && handle ? turnedAlong(node, handle, other) : node[other],
  }
}

/** Where the outline flows through a node, its other handle turns along. */
function turnedAlong(node: OutlineNode, handle: Spot, other: 'before' | 'after'): Spot | null {
  const there = node[other]
  if (!there) return null
  const [dx, dy] = [handle.x - node.x, handle.y - node.y]
  const long = Math.hypot(dx, dy)
  if (long === 0) return there
  const keeps = Math.hypot(there.x - node.x, there.y - node.y)
  return { x: node.x - (dx / long) * keeps, y: node.y - (dy / long) * keeps }
}

/** The two sides that meet at a node, as they run while it is dragged: an SVG path in the frame of ``px``. */
export function draggedPath(
  contours: readonly OutlineNode[][],
  { contour, place }: NodeAt,
  pull: Pull,
  by: Spot,
  px: (at: Spot) => Spot,
): string {
  const nodes = contours[contour] ?? []
  const node = nodes[place]
  const before = nodes.at(place - 1)
  const after = nodes[(place + 1) % nodes.length]
  if (!node || !before || !after) return ''
  const moved = pulled(node, pull, by)
  const say = (at: Spot) => {
    const { x, y } = px(at)
    return `${x.toFixed(1)} ${y.toFixed(1)}`
  }
  const side = (from: OutlineNode, to: OutlineNode) =>
    !from.after && !to.before
      ? `L${say(to)}`
      : `C${say(from.after ?? from)} ${say(to.before ?? to)} ${say(to)}`
  return `M${say(before)}${side(before, moved)}${side(moved, after)}`
}
