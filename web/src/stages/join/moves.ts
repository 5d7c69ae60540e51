// Letters moved by hand. A move is kept as a share of the face's size, so it scales with the lettering.

import { answer, api } from '../../shared/api/client'
import { withLetters } from '../../shared/design/letters'
import { type Lettering, letteringOf } from '../../shared/design/recipe'
import { isUnchanged, scopeNow } from '../../shared/design/requestScope'
import { lettersOf, selectionNow } from '../../shared/design/selection'
import { editRecipeOnce, partNow, useDesign } from '../../shared/design/store'
import type { Part } from '../../shared/evaluation/evaluation'
import { evaluationNow } from '../../shared/evaluation/store'
import { useSteps } from '../../shared/view/view'

/** Moves the chosen letters by millimetres as the work is seen. */
export function moveLetters(side: 1 | -1, dxMm: number, dyMm: number) {
  const part = partNow()
  const chosen = lettersOf(selectionNow())
  const evaluation = evaluationNow()
  const view = evaluation?.parts.find((p) => p.id === part.id)
  if (!evaluation || !view || chosen.length === 0) return
  const larger = timesAsLarge(letteringOf(evaluation.recipe, part.id), part)
  const now = { ...view, size_mm: view.size_mm * larger }
  useDesign.getState().edit(movedFrom(part, now, chosen, side * dxMm, dyMm), part.id)
}

/** How many times as large a lettering is to be as when it was last worked out. */
export function timesAsLarge(before: Lettering | undefined, now: Lettering): number {
  if (!before || before.size.measure !== now.size.measure || !before.size.mm) return 1
  return now.size.mm / before.size.mm
}

/** The part with letters moved by millimetres on the work from where they are in it; sideways they take the
 * rest of their line along when that is wished. */
export function movedFrom(
  part: Lettering,
  view: Part,
  chosen: readonly number[],
  dxMm: number,
  dyMm: number,
): Partial<Lettering> {
  const move = inShares(view, chosen[0] ?? 0, dxMm, dyMm)
  if (!move) return {}
  const firsts = useSteps.getState().carry ? firstOfEachLine(view, chosen) : null
  return withLetters(part, chosen, (now, id) => ({
    dy: exact(now.dy + move.dy),
    ...(firsts === null
      ? { dx: exact(now.dx + move.dx) }
      : firsts.has(id)
        ? { carry: exact(now.carry + move.dx) }
        : {}),
  }))
}

/** A move on the work, in mm, as shares of a part's size: along the line that a letter stands on, and across. */
function inShares({ place, size_mm, letters, made }: Part, lead: number, dx: number, dy: number) {
  if (!size_mm) return null
  const stands = made?.curved ? (letters.find((l) => l.id === lead)?.turn ?? 0) : 0
  const angle = (-(place.turn + (place.flip ? -stands : stands)) * Math.PI) / 180
  const turned = {
    x: dx * Math.cos(angle) - dy * Math.sin(angle),
    y: dx * Math.sin(angle) + dy * Math.cos(angle),
  }
  return { dx: (place.flip ? -turned.x : turned.x) / size_mm, dy: turned.y / size_mm }
}

/** Of the chosen letters, the first of each line: it takes the others along. */
export function firstOfEachLine({ letters }: Pick<Part, 'letters'>, chosen: readonly number[]): Set<number> {
  const first = new Map<number, { at: number; id: number }>()
  for (const letter of letters) {
    if (!chosen.includes(letter.id)) continue
    const known = first.get(letter.line)
    if (!known || letter.at < known.at) first.set(letter.line, { at: letter.at, id: letter.id })
  }
  return new Set([...first.values()].map(({ id }) => id))
}

/** Puts the feet of the chosen letters on one line: that of the first of them. */
export async function alignFeet() {
  const asked = scopeNow()
  const { part } = selectionNow()
  const letters = [...lettersOf(selectionNow())]
  const body = { recipe: asked.recipe, part, letters }
  const aligned = await answer(api.POST('/api/letters/align', { body }))
  if (isUnchanged(asked)) editRecipeOnce(aligned)
}

/** Free of the dust of binary fractions, so that a step back is back. */
export const exact = (value: number) => Math.round(value * 1e7) / 1e7
