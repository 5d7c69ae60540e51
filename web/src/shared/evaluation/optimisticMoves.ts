// Letters on their way: where they are by the newest recipe, before its weld has come. Filled, they look just
// as their weld does, so they are drawn at once.

import { changeOf, type LetterChange } from '../design/letters'
import type { Lettering, Recipe, Part as RecipePart } from '../design/recipe'
import type { Evaluation, Letter, Part, Placement, Shift } from './evaluation'
import { alongLetter, fromLetter, NO_SHIFT, placedWithin, undone } from './evaluation'

/** The shift of each letter of a part, by its id. */
export type Shifts = ReadonlyMap<number, Shift>

/** How a part is ahead: its letters' shifts, and where it lies now. */
export interface OptimisticMove {
  shifts: Shifts
  place: Placement
}

/** The parts whose letters, or that themselves, have moved since an evaluation, with how; null where something
 * else has changed too, which only the server can draw. */
export function optimisticMovesOf(
  evaluation: Evaluation,
  recipe: Recipe,
): ReadonlyMap<string, OptimisticMove> | null {
  if (recipe === evaluation.recipe) return NONE
  const { parts: before, ...restBefore } = evaluation.recipe
  const { parts: now, ...restNow } = recipe
  if (before.length !== now.length || !same(restBefore, restNow)) return null
  const found = new Map<string, OptimisticMove>()
  for (const [n, part] of now.entries()) {
    const old = before[n]
    if (old === part) continue
    const view = evaluation.parts.find((p) => p.id === part.id)
    // What a combination comes to when a member changes, only the server knows.
    if (!old || !view?.made || view.within !== null) return null
    const moved = placeAhead(view, old.place, part.place)
    if (onlyPlaced(old, part)) found.set(part.id, { shifts: NO_SHIFTS, place: moved })
    else if (old.kind === 'lettering' && part.kind === 'lettering' && onlyMoved(old, part))
      found.set(part.id, { shifts: shifts(view, old, part), place: moved })
    else return null
  }
  if (!alignedFollow(evaluation, now, found)) return null
  // A backing goes along with what it is the backing of.
  for (const part of now) {
    const view = evaluation.parts.find((p) => p.id === part.id)
    const source = part.kind === 'backing' ? found.get(part.of) : undefined
    const sourceView = part.kind === 'backing' && evaluation.parts.find((p) => p.id === part.of)
    if (!source || !view || !sourceView || view.within !== null) continue
    if (source.shifts.size > 0 || source.place.scale !== sourceView.place.scale) return null
    found.set(part.id, {
      shifts: NO_SHIFTS,
      place: placedWithin(placedWithin(view.place, undone(sourceView.place)), source.place),
    })
  }
  return found
}

/** Adds the parts that are aligned to those that moved, and go along; false where only the server knows how. */
function alignedFollow(
  evaluation: Evaluation,
  now: readonly RecipePart[],
  found: Map<string, OptimisticMove>,
): boolean {
  const followers = now.filter((part) => part.alignment?.to != null)
  for (let goOn = found.size > 0; goOn; ) {
    goOn = false
    for (const part of followers.splice(0)) {
      const to = evaluation.parts.find((p) => p.id === part.alignment?.to)
      const moved = to && found.get(to.id)
      if (!moved) {
        followers.push(part)
        continue
      }
      const view = evaluation.parts.find((p) => p.id === part.id)
      if (view?.within != null) return false
      if (moved.shifts.size > 0 || moved.place.scale !== to.place.scale || moved.place.turn !== to.place.turn)
        return false
      if (!view?.made) continue
      const own = found.get(part.id) ?? { shifts: NO_SHIFTS, place: view.place }
      const place = {
        ...own.place,
        x: own.place.x + (part.alignment?.across ? moved.place.x - to.place.x : 0),
        y: own.place.y + (part.alignment?.down ? moved.place.y - to.place.y : 0),
      }
      found.set(part.id, { ...own, place })
      goOn = true
    }
  }
  return true
}

const NONE: ReadonlyMap<string, OptimisticMove> = new Map()
const NO_SHIFTS: Shifts = new Map()

/** Where a part lies on the work once its own place has changed. */
function placeAhead(view: Part, old: Placement, now: Placement): Placement {
  return old === now ? view.place : placedWithin(placedWithin(view.place, undone(old)), now)
}

/** Whether two versions of a part differ in nothing but where they lie. What was not touched is the same object:
 * a large drawing is not looked through. */
export function onlyPlaced(old: RecipePart, now: RecipePart): boolean {
  const { place: _, ...rest } = old
  const { place: __, ...restNow } = now
  const keys = Object.keys(rest) as (keyof typeof rest)[]
  return keys.length === Object.keys(restNow).length && keys.every((key) => same(rest[key], restNow[key]))
}

const MOVES = ['dx', 'dy', 'carry', 'after', 'turn', 'scale'] as const
type Move = (typeof MOVES)[number]

/** Whether two versions of a part differ in nothing but how letters stand. */
function onlyMoved(old: Lettering, now: Lettering): boolean {
  const { letters: before, letter_ids: _, next_letter_id: __, place: p1, ...rest } = old
  const { letters: after, letter_ids: ___, next_letter_id: ____, place: p2, ...restNow } = now
  if (!same(rest, restNow)) return false
  const ids = new Set([...Object.keys(before ?? {}), ...Object.keys(after ?? {})].map(Number))
  return [...ids].every((id) => same(unmoved(changeOf(old, id)), unmoved(changeOf(now, id))))
}

function unmoved(change: LetterChange): Omit<LetterChange, Move> {
  const { dx: _, dy: __, carry: ___, after: ____, turn: _____, scale: ______, ...rest } = change
  return rest
}

const same = (a: unknown, b: unknown) => a === b || JSON.stringify(a) === JSON.stringify(b)

function shifts(view: Part, old: Lettering, now: Lettering): Shifts {
  const size = view.made?.size_mm ?? 0
  const found = new Map<number, Shift>()
  let line = -1
  let carried = 0
  for (const letter of view.letters) {
    if (letter.line !== line) {
      line = letter.line
      carried = 0
    }
    const was = changeOf(old, letter.id)
    const is = changeOf(now, letter.id)
    carried += is.carry - was.carry
    // On a line that bends a letter moves along it, as far as the eye can tell.
    const along = alongLetter(letter, (carried + is.dx - was.dx) * size, (is.dy - was.dy) * size)
    const shift = {
      ...along,
      turn: is.turn - was.turn,
      scale: is.scale / was.scale,
      middle: middleOf(letter, view, is.scale / was.scale),
    }
    if (shift.dx !== 0 || shift.dy !== 0 || shift.turn !== 0 || shift.scale !== 1) found.set(letter.id, shift)
    carried += is.after - was.after
    // A larger letter takes more room: how much, the server says.
  }
  return found
}

/** The middle of a letter from its origin, in its part's frame. */
function middleOf(letter: Letter, view: Part, grown: number) {
  const box = view.made?.letters.find((l) => l.id === letter.id)?.box
  if (!box) return { x: 0, y: 0 }
  const { x, y } = fromLetter(letter, { x: box.x + box.width / 2, y: box.y + box.height / 2 })
  return { x: x * grown, y: y * grown }
}

export const shiftOf = (shifts: Shifts | undefined, id: number): Shift => shifts?.get(id) ?? NO_SHIFT
