// Where parts lie on their level: the combination they are members of, or the work.

import type { Part, Recipe } from '../../shared/design/recipe'
import {
  type Evaluation,
  type Part as PartView,
  type Placement,
  placedWithin,
  undone,
} from '../../shared/evaluation/evaluation'
import { parentOf } from './parts'

export const NO_MOVE: Placement = { x: 0, y: 0, turn: 0, scale: 1, flip: false }

export const viewOf = (evaluation: Evaluation | undefined, id: string): PartView | undefined =>
  evaluation?.parts.find((p) => p.id === id)

/** Where the frame of a part's level lies on the work. */
export function levelOf(recipe: Recipe, evaluation: Evaluation, id: string): Placement {
  const parent = parentOf(recipe, id)
  return (parent && viewOf(evaluation, parent.id)?.place) ?? NO_MOVE
}

const LEAST = 0.01
const MOST = 100
const FURTHEST = 5000

const within = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value))
const round = (value: number) => Math.round(value * 1e5) / 1e5

/** A placement as a recipe keeps it. */
export const kept = ({ x, y, turn, scale, flip }: Placement): Placement => ({
  x: round(within(x, -FURTHEST, FURTHEST)),
  y: round(within(y, -FURTHEST, FURTHEST)),
  turn: round(((((turn + 180) % 360) + 360) % 360) - 180),
  scale: round(within(scale, LEAST, MOST)),
  flip,
})

/** Where a part lies in its level: as its place says, and where it is aligned as that came out. */
export function ownPlace(recipe: Recipe, evaluation: Evaluation, part: Part): Placement {
  const view = part.alignment ? viewOf(evaluation, part.id) : undefined
  if (!view) return part.place
  const { x, y } = kept(placedWithin(view.place, undone(levelOf(recipe, evaluation, part.id))))
  return {
    ...part.place,
    ...(part.alignment?.across && { x }),
    ...(part.alignment?.down && { y }),
  }
}
