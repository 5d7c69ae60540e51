// Alignment as a property of a part: which edge or middle of it stays where it is, and by what it is measured.

import { findPart, type Part, type Recipe } from '../../shared/design/recipe'
import { type Box, type Evaluation, onWork, type Placement, undone } from '../../shared/evaluation/evaluation'
import type { Spot } from '../../shared/view/view'
import { levelOf, ownPlace, viewOf } from './levels'
import { isFramed, onLevel, parentOf } from './parts'

export type Alignment = NonNullable<Part['alignment']>
export type Across = NonNullable<Alignment['across']>
export type Down = NonNullable<Alignment['down']>

/** An edge or a middle, across or down. */
export type AlignEdge = { across: Across } | { down: Down }

const ACROSS: Record<Across, number> = { left: 0, centre: 0.5, right: 1 }
const DOWN: Record<Down, number> = { top: 0, middle: 0.5, bottom: 1 }

/** The point of a box that an alignment measures by; its middle where it says nothing. */
export const heldPoint = (box: Box, { across, down }: Alignment): Spot => ({
  x: box.x + box.width * ACROSS[across ?? 'centre'],
  y: box.y + box.height * DOWN[down ?? 'middle'],
})

/** Whether its alignment may say where a part lies: a backing and a framed name follow something else, and so
 * do words along the edge of another part. */
export const canAlign = (recipe: Recipe, part: Part) =>
  part.kind !== 'backing' &&
  !isFramed(recipe, part.id) &&
  !(part.kind === 'lettering' && part.course?.of != null)

/** Whether a part is placed by another, however far back. */
export function dependsOn(recipe: Recipe, id: string, other: string): boolean {
  const seen = new Set<string>()
  const search = (at: string): boolean => {
    if (at === other) return true
    if (seen.has(at)) return false
    seen.add(at)
    const part = findPart(recipe, at)
    if (!part) return false
    const next = [part.alignment?.to, part.kind === 'backing' ? part.of : null]
    return next.some((to) => to != null && search(to))
  }
  return search(id)
}

/** The parts that a part can be aligned to: those of its level that it does not place. */
export const groundsFor = (recipe: Recipe, id: string): Part[] =>
  onLevel(recipe, parentOf(recipe, id)?.id ?? null).filter(
    (other) => other.id !== id && !dependsOn(recipe, other.id, id),
  )

/** The box around a part in the frame of its level. */
function boxInLevel(recipe: Recipe, evaluation: Evaluation, id: string): Box | null {
  const box = viewOf(evaluation, id)?.box
  if (!box) return null
  const back = undone(levelOf(recipe, evaluation, id))
  const corners = [onWork(back, box), onWork(back, { x: box.x + box.width, y: box.y + box.height })]
  const [left, right] = [Math.min(...corners.map((c) => c.x)), Math.max(...corners.map((c) => c.x))]
  const [top, bottom] = [Math.min(...corners.map((c) => c.y)), Math.max(...corners.map((c) => c.y))]
  return { x: left, y: top, width: right - left, height: bottom - top }
}

/** Ways in which a part is moved onto what it is aligned to. */
export interface Pulled {
  across: boolean
  down: boolean
}
const NOT_PULLED: Pulled = { across: false, down: false }

const round = (mm: number) => Math.round(mm * 1e5) / 1e5

/** A part aligned otherwise from now on, or lying freely: it stays where it is, unless it is `pulled` onto what
 * it is aligned to, across, down, or both. */
export function withAlignment(
  recipe: Recipe,
  evaluation: Evaluation,
  part: Part,
  alignment: Alignment | null,
  pulled: Pulled = NOT_PULLED,
): Part {
  const free = ownPlace(recipe, evaluation, part)
  if (!alignment || (!alignment.across && !alignment.down)) return { ...part, alignment: null, place: free }
  const box = boxInLevel(recipe, evaluation, part.id)
  const other = alignment.to ? boxInLevel(recipe, evaluation, alignment.to) : NOWHERE
  if (!box || !other) return part
  const [own, its] = [heldPoint(box, alignment), heldPoint(other, alignment)]
  const pull = alignment.to === null ? NOT_PULLED : pulled
  const place: Placement = {
    ...free,
    x: alignment.across ? (pull.across ? 0 : round(own.x - its.x)) : free.x,
    y: alignment.down ? (pull.down ? 0 : round(own.y - its.y)) : free.y,
  }
  return { ...part, alignment, place }
}

const NOWHERE: Box = { x: 0, y: 0, width: 0, height: 0 }

/** The recipe with one part aligned otherwise. */
export function realigned(
  recipe: Recipe,
  evaluation: Evaluation,
  id: string,
  alignment: Alignment | null,
  pulled: Pulled = NOT_PULLED,
): Recipe {
  const change = (p: Part) => (p.id === id ? withAlignment(recipe, evaluation, p, alignment, pulled) : p)
  return { ...recipe, parts: recipe.parts.map(change) }
}

/** The recipe with parts lying freely where they are: before what they are aligned to goes, or another level
 * is theirs. */
export function freed(
  recipe: Recipe,
  evaluation: Evaluation | undefined,
  which: (part: Part) => boolean,
): Recipe {
  if (!evaluation || !recipe.parts.some((p) => p.alignment && which(p))) return recipe
  return {
    ...recipe,
    parts: recipe.parts.map((p) =>
      p.alignment && which(p) ? withAlignment(recipe, evaluation, p, null) : p,
    ),
  }
}

/** Several parts aligned to one of them, at one of its edges or its middle. */
export function alignedTo(
  recipe: Recipe,
  evaluation: Evaluation,
  ids: readonly string[],
  ground: string,
  edge: AlignEdge,
): Recipe {
  let next = freed(
    recipe,
    evaluation,
    (p) => p.id === ground && ids.some((id) => dependsOn(recipe, ground, id)),
  )
  for (const id of ids) {
    const part = findPart(next, id)
    if (!part || id === ground || part.locked || !canAlign(next, part)) continue
    const before = part.alignment?.to === ground ? part.alignment : { to: ground, across: null, down: null }
    const alignment: Alignment = { ...before, ...edge }
    next = realigned(next, evaluation, id, alignment, { across: 'across' in edge, down: 'down' in edge })
  }
  return next
}
