// Made-up recipes for the tests of what the browser decides by itself.

import { type Lettering, NO_RECIPE, newLettering, type Part, type Recipe } from './design/recipe'

export const tern = (more: Partial<Lettering> = {}): Lettering =>
  newLettering({ id: 'one', text: 'Tern', ...more })

export const recipeOf = (parts: Part[], more: Partial<Recipe> = {}): Recipe => ({
  ...NO_RECIPE,
  parts,
  ...more,
})
