// What a new design begins with: as the one that was worked on last in this browser.

import { isBlank, type Lettering, NO_RECIPE, newLettering, type Recipe } from './recipe'

const KEY = 'fulgen-last'

type Beginning = Pick<Recipe, 'unit' | 'material' | 'materials'> & {
  ready: NonNullable<Recipe['ready']> | null
  version: number
  machine: string
  lettering: Partial<Lettering>
}

/** Keeps what the next design begins with: unit, material, machine, and how its first words are set. */
export function remember(recipe: Recipe) {
  const last = recipe.parts.findLast((part) => part.kind === 'lettering' && !isBlank(part))
  if (last?.kind !== 'lettering') return
  const { unit, material, materials, ready } = recipe
  const beginning: Beginning = {
    version: NO_RECIPE.version,
    unit,
    material,
    materials,
    ready: ready ? { ...ready, places_left: [] } : null,
    machine: recipe.cut.machine,
    lettering: { face: last.face, join: { ...last.join, refused: [] }, film: last.film, size: last.size },
  }
  try {
    localStorage.setItem(KEY, JSON.stringify(beginning))
  } catch {
    // Nothing is lost where the browser keeps nothing: the next design begins as the first one did.
  }
}

/** The recipe that a new design begins with; nothing where this browser knows of none. */
export function beginning(): Recipe | undefined {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? 'null') as Beginning | null
    if (kept?.version !== NO_RECIPE.version) return undefined
    const { unit, material, materials, ready, machine, lettering } = kept
    return {
      ...NO_RECIPE,
      unit,
      material,
      materials,
      ready,
      cut: { ...NO_RECIPE.cut, machine },
      parts: [newLettering({ id: 'lettering-1', ...lettering, text: '' })],
    }
  } catch {
    return undefined
  }
}
