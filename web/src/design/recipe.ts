// The recipe as the workbench handles it: the server's types and pure changes of them.

import type { Schemas } from '../api/client'

export type Recipe = Schemas['Recipe']
export type Lettering = Schemas['Lettering']
export type FaceOut = Schemas['FaceOut']
export type Join = NonNullable<Lettering['join']>
export type Bar = Schemas['Bar']
export type TouchUp = Schemas['TouchUp']
export type Unit = Recipe['unit']
export type SizeMeasure = Schemas['Size']['measure']

/** A design before one is opened. */
export const NO_RECIPE: Recipe = {
  format: 'fulgen-recipe',
  version: 4,
  unit: 'mm',
  mirror: false,
  material: { name: 'Adhesive film', limits: null },
  bars: [],
  touch_ups: [],
  known: [],
  parts: [],
}

/** Findings that a design may hold as accepted: as many as its model takes. */
export const MOST_KNOWN = 300

/** The part with this id, or the first. */
export function partOf(recipe: Recipe, id: string): Lettering {
  const part = recipe.parts.find((p) => p.id === id) ?? recipe.parts[0]
  if (!part) throw new Error('a recipe has a part')
  return part
}

/** The recipe with one part changed. */
export function withPart(recipe: Recipe, id: string, change: Partial<Lettering>): Recipe {
  return { ...recipe, parts: recipe.parts.map((p) => (p.id === id ? { ...p, ...change } : p)) }
}

/** Another face for a part; what only the old face could do goes. */
export function withFace(part: Lettering, face: FaceOut): Lettering {
  const able = new Set(face.features.map((f) => f.tag))
  const keptWeight = face.axes.some((a) => a.tag === 'wght') || face.weights.includes(part.face.weight ?? 0)
  return {
    ...part,
    face: { family: face.slug, weight: keptWeight ? (part.face.weight ?? null) : null, axes: {} },
    features: Object.fromEntries(Object.entries(part.features ?? {}).filter(([tag]) => able.has(tag))),
  }
}

const AS_SET: Join = {
  how: 'set',
  neck_mm: 1.2,
  tight: 0.5,
  smooth_mm: 0,
  marks: 'keep',
  mark_shape: null,
  tie: false,
  refused: [],
}

/** How a part is joined; as the face sets it where nothing is said. */
export const joinOf = (join: Join | undefined): Join => ({ ...AS_SET, ...join })
