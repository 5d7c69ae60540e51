// Bridges laid by hand: asked for by places on the work, kept by anchors on letters.

import { answer, api, asProblem } from '../../shared/api/client'
import { isThere, withKeptIds } from '../../shared/design/letters'
import type { Bar, Recipe } from '../../shared/design/recipe'
import { isOpen, scopeNow } from '../../shared/design/requestScope'
import { useSelection } from '../../shared/design/selection'
import { asOneStep, useDesign } from '../../shared/design/store'
import type { Spot } from '../../shared/view/view'

/** Lays a bridge between two places of the work, or lays one anew; its ends snap to the nearest strokes. An
 * answer that comes when the bridge or its letters are gone is dropped. */
export async function layBar(start: Spot, end: Spot, number: number | null) {
  const asked = scopeNow()
  const { setProblem, select } = useSelection.getState()
  const bar = number === null ? undefined : asked.recipe.bars[number]
  const measures = { width_mm: bar?.width_mm ?? null, bulge: bar?.bulge ?? 0 }
  try {
    const laid = await answer(
      api.POST('/api/bars/lay', { body: { recipe: asked.recipe, start, end, ...measures } }),
    )
    const { recipe } = useDesign.getState()
    if (!isOpen(asked) || !holds(recipe, laid)) return
    if (number !== null && recipe.bars[number] !== bar) return
    const bars = number === null ? [...recipe.bars, laid] : recipe.bars.with(number, laid)
    setProblem(null)
    asOneStep(() => withBars(bars))
    select({ kind: 'bar', part: laid.start.part, bar: number ?? bars.length - 1 })
  } catch (error) {
    if (isOpen(asked)) setProblem(asProblem(error))
  }
}

/** Whether the letters that a bridge holds by are there. */
const holds = (recipe: Recipe, bar: Bar) => [bar.start, bar.end].every((anchor) => isThere(recipe, anchor))

/** The design with these bridges; letters they hold by have ids that stay. */
export function withBars(bars: Bar[]) {
  const { recipe, editRecipe } = useDesign.getState()
  const held = new Set(bars.flatMap((bar) => [bar.start.part, bar.end.part]))
  editRecipe({ bars, parts: withKeptIds(recipe, held).parts })
}

/** Changes one bridge. */
export function changeBar(number: number, change: Partial<Bar>) {
  withBars(useDesign.getState().recipe.bars.map((bar, n) => (n === number ? { ...bar, ...change } : bar)))
}
