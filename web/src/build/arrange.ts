// Where parts lie: moved, turned, made larger, lined up and spread, by the boxes around them on the work.

import { findPart, type Part, type Recipe } from '../design/recipe'
import {
  type Box,
  type Evaluation,
  type Part as PartView,
  type Placement,
  placedWithin,
  undone,
} from '../evaluation/evaluation'
import { isFramed, parentOf } from './parts'

const NOWHERE: Placement = { x: 0, y: 0, turn: 0, scale: 1, flip: false }

export const viewOf = (evaluation: Evaluation | undefined, id: string): PartView | undefined =>
  evaluation?.parts.find((p) => p.id === id)

/** The box around parts on the work; null where none has one. */
export function boxAround(boxes: readonly (Box | null | undefined)[]): Box | null {
  const known = boxes.filter((box) => box != null)
  if (known.length === 0) return null
  const left = Math.min(...known.map((b) => b.x))
  const top = Math.min(...known.map((b) => b.y))
  const right = Math.max(...known.map((b) => b.x + b.width))
  const bottom = Math.max(...known.map((b) => b.y + b.height))
  return { x: left, y: top, width: right - left, height: bottom - top }
}

const LEAST = 0.01
const MOST = 100
const FURTHEST = 5000

const within = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value))

/** A placement as a recipe keeps it. */
export const kept = ({ x, y, turn, scale, flip }: Placement): Placement => ({
  x: round(within(x, -FURTHEST, FURTHEST)),
  y: round(within(y, -FURTHEST, FURTHEST)),
  turn: round(((((turn + 180) % 360) + 360) % 360) - 180),
  scale: round(within(scale, LEAST, MOST)),
  flip,
})

const round = (value: number) => Math.round(value * 1e5) / 1e5

/** Where the frame of a part's level lies on the work. */
function levelOf(recipe: Recipe, evaluation: Evaluation, id: string): Placement {
  const parent = parentOf(recipe, id)
  return (parent && viewOf(evaluation, parent.id)?.place) ?? NOWHERE
}

/** A part's own place after a change that was made on the work; a backing's is what moves it on from its part. */
export function placeAfter(recipe: Recipe, evaluation: Evaluation, part: Part, change: Placement): Placement {
  const level = levelOf(recipe, evaluation, part.id)
  // change ∘ level ∘ own = level ∘ next
  return kept(placedWithin(placedWithin(placedWithin(part.place, level), change), undone(level)))
}

/** The recipe with parts changed where they lie on the work: each by a placement of its own. */
export function arranged(
  recipe: Recipe,
  evaluation: Evaluation,
  changes: ReadonlyMap<string, Placement>,
): Recipe {
  return {
    ...recipe,
    parts: recipe.parts.map((part): Part => {
      const change = changes.get(part.id)
      // A backing goes along with its part by itself.
      const follows = part.kind === 'backing' && changes.has(part.of)
      if (!change || part.locked || follows || isFramed(recipe, part.id)) return part
      return { ...part, place: placeAfter(recipe, evaluation, part, change) }
    }),
  }
}

export const movedBy = (dx: number, dy: number): Placement => ({ ...NOWHERE, x: dx, y: dy })

/** Made larger and turned about a place of the work. */
export function about(x: number, y: number, scale: number, turn = 0, flip = false): Placement {
  const there: Placement = { x: 0, y: 0, turn, scale, flip }
  const { x: mx, y: my } = placedWithin({ ...NOWHERE, x: -x, y: -y }, there)
  return { ...there, x: x + mx, y: y + my }
}

/** All chosen parts changed alike. */
export const alike = (ids: readonly string[], change: Placement) =>
  new Map(ids.map((id) => [id, change] as const))

export type Edge = 'left' | 'centre' | 'right' | 'top' | 'middle' | 'bottom'

const EDGES: Record<Edge, (box: Box) => number> = {
  left: (b) => b.x,
  centre: (b) => b.x + b.width / 2,
  right: (b) => b.x + b.width,
  top: (b) => b.y,
  middle: (b) => b.y + b.height / 2,
  bottom: (b) => b.y + b.height,
}
const ACROSS: ReadonlySet<Edge> = new Set(['left', 'centre', 'right'])

type Boxed = { id: string; box: Box }

/** Parts lined up at an edge or middle: with the first chosen, which stays. */
export function aligned(boxed: readonly Boxed[], edge: Edge): Map<string, Placement> {
  const [first] = boxed
  if (!first) return new Map()
  const to = EDGES[edge](first.box)
  const by = (box: Box) => to - EDGES[edge](box)
  return new Map(
    boxed
      .slice(1)
      .map(({ id, box }) => [id, ACROSS.has(edge) ? movedBy(by(box), 0) : movedBy(0, by(box))] as const),
  )
}

/** Parts spread between the outermost two: with their middles evenly apart, or with even gaps between them. */
export function spread(
  boxed: readonly Boxed[],
  way: 'across' | 'down',
  even: 'middles' | 'gaps',
): Map<string, Placement> {
  if (boxed.length < 3) return new Map()
  const [from, size]: ['x' | 'y', 'width' | 'height'] = way === 'across' ? ['x', 'width'] : ['y', 'height']
  const middle = (b: Box) => b[from] + b[size] / 2
  const sorted = [...boxed].sort((a, b) =>
    even === 'middles' ? middle(a.box) - middle(b.box) : a.box[from] - b.box[from],
  )
  const [first, last] = [sorted[0], sorted.at(-1)]
  if (!first || !last) return new Map()
  const changes = new Map<string, Placement>()
  const steps = sorted.length - 1
  const room = last.box[from] + last.box[size] - first.box[from]
  const gap = (room - sorted.reduce((sum, { box }) => sum + box[size], 0)) / steps
  let at = first.box[from]
  for (const [n, { id, box }] of sorted.entries()) {
    const to =
      even === 'middles'
        ? middle(first.box) + ((middle(last.box) - middle(first.box)) * n) / steps - box[size] / 2
        : at
    at += box[size] + gap
    const by = to - box[from]
    if (Math.abs(by) > 1e-9) changes.set(id, way === 'across' ? movedBy(by, 0) : movedBy(0, by))
  }
  return changes
}

/** Words and parts one under the other, in the order they are chosen: so far apart, centred or staggered. */
export function stacked(boxed: readonly Boxed[], gapMm: number, staggerMm: number): Map<string, Placement> {
  const [first] = boxed
  if (!first) return new Map()
  const changes = new Map<string, Placement>()
  let bottom = first.box.y + first.box.height
  for (const [n, { id, box }] of boxed.slice(1).entries()) {
    const x = EDGES.centre(first.box) + staggerMm * (n + 1) - EDGES.centre(box)
    changes.set(id, movedBy(x, bottom + gapMm - box.y))
    bottom += gapMm + box.height
  }
  return changes
}

export interface Snap {
  /** How far further it goes to lie on something. */
  by: number
  /** Where the line lies that it snaps to. */
  at: number
}

/** Lines to snap to: edges and middles of boxes, and baselines. */
export interface SnapLines {
  across: number[]
  down: number[]
}

export function snapLines(evaluation: Evaluation, recipe: Recipe, without: ReadonlySet<string>): SnapLines {
  const others = evaluation.parts.filter((p) => p.shown && !without.has(p.id) && p.box !== null)
  const boxes = others.map((p) => p.box).filter((b) => b !== null)
  const baselines = others
    .filter((p) => findPart(recipe, p.id)?.kind === 'lettering' && p.place.turn === 0)
    .flatMap((p) => (p.made?.baselines_mm ?? []).map((y) => p.place.y + y * p.place.scale))
  return {
    across: boxes.flatMap((b) => [EDGES.left(b), EDGES.centre(b), EDGES.right(b)]),
    down: [...boxes.flatMap((b) => [EDGES.top(b), EDGES.middle(b), EDGES.bottom(b)]), ...baselines],
  }
}

/** The nearest line that one of some places would lie on, within a distance. */
export function snapped(places: readonly number[], lines: readonly number[], reach: number): Snap | null {
  let best: Snap | null = null
  for (const place of places)
    for (const at of lines) {
      const by = at - place
      if (Math.abs(by) <= reach && (best === null || Math.abs(by) < Math.abs(best.by))) best = { by, at }
    }
  return best
}
