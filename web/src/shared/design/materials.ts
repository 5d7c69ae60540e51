// The materials of a design: by name, and as the shop has them where that is otherwise than Fulgen knows them.

import type { Schemas } from '../api/client'
import type { Material, Recipe } from './recipe'
import { editRecipeOnce, useDesign } from './store'

export type Known = readonly Schemas['MaterialOut'][]

/** The materials that a recipe keeps, for the names that it uses: those of the shop's own, as they are now where
 * `known` says so. What Fulgen knows itself need not be kept. */
export function keptMaterials(
  recipe: Pick<Recipe, 'material' | 'materials' | 'cut'>,
  known: Known,
  chosen: string,
): Material[] {
  const used = new Set([recipe.material.name, ...recipe.cut.stocks.map((s) => s.material), chosen])
  const now = known.find(({ material }) => material.name === chosen)
  const others = recipe.materials.filter((m) => used.has(m.name) && m.name !== chosen)
  return now && !now.is_default ? [...others, now.material] : others
}

/** Takes a material for the design, with what the shop knows of it. */
export function chooseMaterial(name: string, known: Known) {
  const { recipe } = useDesign.getState()
  const material = { name, limits: null }
  editRecipeOnce({ material, materials: keptMaterials({ ...recipe, material }, known, name) })
}
