// Made-up recipes for the tests of what the browser decides by itself.

import { type Lettering, NO_RECIPE, type Recipe } from './design/recipe'

export const letteringOf = (more: Partial<Lettering> = {}): Lettering => ({
  kind: 'lettering',
  id: 'one',
  text: 'Tern',
  letter_ids: [],
  next_letter_id: 1,
  thicken_mm: 0,
  corners: 'round',
  face: { family: 'pacifico', weight: null, axes: {} },
  size: { measure: 'capitals', mm: 25 },
  spacing_mm: 0,
  spacing_share: 0,
  line_spacing: 1.2,
  align: 'left',
  join: {
    how: 'set',
    neck_mm: 1.2,
    tight: 0.5,
    smooth_mm: 0,
    marks: 'keep',
    mark_shape: null,
    tie: false,
    refused: [],
  },
  film: '#2B5674',
  place: { x: 0, y: 0, turn: 0, scale: 1, flip: false },
  ...more,
})

export const recipeOf = (parts: Lettering[], more: Partial<Recipe> = {}): Recipe => ({
  ...NO_RECIPE,
  parts,
  ...more,
})
