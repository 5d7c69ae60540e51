// Where parts lie: moved, turned, made larger, lined up and spread, by the boxes around them on the work.

import { findPart, type Part, type Recipe } from '../../shared/design/recipe'
import {
  type Box,
  type Evaluation,
  onWork,
  type Placement,
  placedWithin,
  undone,
} from '../../shared/evaluation/evaluation'
import type { Spot } from '../../shared/view/view'
import { heldPoint } from './alignment'
import { kept, levelOf, NO_MOVE, ownPlace, viewOf } from './levels'
import { isFramed } from './parts'

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

/** A part's own place after a change that was made on the work; a backing's is what moves it on from its part.
 * `carried` is how far what it is aligned to takes it along by itself. */
export function placeAfter(
  recipe: Recipe,
  evaluation: Evaluation,
  part: Part,
  change: Placement,
  carried: Spot = NO_MOVE,
): Placement {
  const level = levelOf(recipe, evaluation, part.id)
  const own = ownPlace(recipe, evaluation, part)
  // change ∘ level ∘ own = level ∘ next
  const next = kept(placedWithin(placedWithin(placedWithin(own, level), change), undone(level)))
  if (!part.alignment) return next
  const by = heldBy(recipe, evaluation, part, change)
  return kept({
    ...next,
    ...(part.alignment.across && { x: part.place.x + by.x - carried.x }),
    ...(part.alignment.down && { y: part.place.y + by.y - carried.y }),
  })
}

/** How far a change made on the work moves the point that a part is held by, in its level. */
function heldBy(recipe: Recipe, evaluation: Evaluation, part: Part, change: Placement): Spot {
  const box = viewOf(evaluation, part.id)?.box
  const at = box && part.alignment ? heldPoint(box, part.alignment) : { x: 0, y: 0 }
  return movedInLevel(recipe, evaluation, part.id, at, onWork(change, at))
}

function movedInLevel(recipe: Recipe, evaluation: Evaluation, id: string, from: Spot, to: Spot): Spot {
  const back = undone(levelOf(recipe, evaluation, id))
  const [before, after] = [onWork(back, from), onWork(back, to)]
  return { x: after.x - before.x, y: after.y - before.y }
}

/** How far changes take a part along by what it is aligned to. */
function carriedBy(
  recipe: Recipe,
  evaluation: Evaluation,
  part: Part,
  changes: ReadonlyMap<string, Placement>,
): Spot {
  const to = findPart(recipe, part.alignment?.to ?? '')
  const box = to && viewOf(evaluation, to.id)?.box
  if (!to || !box || !part.alignment) return NO_MOVE
  const change = changes.get(to.id)
  // What is aligned to something that moves moves by itself, too.
  if (!change || to.locked) {
    const { x, y } = carriedBy(recipe, evaluation, to, changes)
    return { x: to.alignment?.across ? x : 0, y: to.alignment?.down ? y : 0 }
  }
  const at = heldPoint(box, part.alignment)
  return movedInLevel(recipe, evaluation, part.id, at, onWork(change, at))
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
      const carried = carriedBy(recipe, evaluation, part, changes)
      return { ...part, place: placeAfter(recipe, evaluation, part, change, carried) }
    }),
  }
}

export const movedBy = (dx: number, dy: number): Placement => ({ ...NO_MOVE, x: dx, y: dy })

/** Made larger and turned about a place of the work. */
export function about(x: number, y: number, scale: number, turn = 0, flip = false): Placement {
  const there: Placement = { x: 0, y: 0, turn, scale, flip }
  const { x: mx, y: my } = placedWithin({ ...NO_MOVE, x: -x, y: -y }, there)
  return { ...there, x: x + mx, y: y + my }
}

/** All chosen parts changed alike. */
export const alike = (ids: readonly string[], change: Placement) =>
  new Map(ids.map((id) => [id, change] as const))

/** Edges and middles of a box. */
const EDGES = {
  left: (b: Box) => b.x,
  centre: (b: Box) => b.x + b.width / 2,
  right: (b: Box) => b.x + b.width,
  top: (b: Box) => b.y,
  middle: (b: Box) => b.y + b.height / 2,
  bottom: (b: Box) => b.y + b.height,
}

export type Boxed = { id: string; box: Box }

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

const AIR_MM = 6

/** How far something goes to lie beside itself and on nothing else: below where it is wide, as names are, else to
 * the right; else the other way, or beyond all others. What it lies on itself is not in its way. */
export function beside(box: Box, others: readonly Box[]): Spot {
  const inTheWay = others.filter((other) => !holds(other, box))
  const right = { x: box.width + Math.max(AIR_MM, 0.08 * box.width), y: 0 }
  // Another name may have letters that reach lower.
  const below = { x: 0, y: box.height + Math.max(AIR_MM, 0.8 * box.height) }
  const ways = box.width > 1.5 * box.height ? [below, right] : [right, below]
  const free = ways.find((by) => !inTheWay.some((other) => meets(shifted(box, by), other)))
  if (free) return free
  const furthest = Math.max(...inTheWay.map((other) => other.x + other.width))
  return { x: furthest + AIR_MM - box.x, y: 0 }
}

const shifted = (box: Box, by: Spot): Box => ({ ...box, x: box.x + by.x, y: box.y + by.y })

const meets = (a: Box, b: Box) =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height

const holds = (outer: Box, inner: Box) =>
  outer.x <= inner.x &&
  outer.y <= inner.y &&
  outer.x + outer.width >= inner.x + inner.width &&
  outer.y + outer.height >= inner.y + inner.height

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
