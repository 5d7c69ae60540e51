// The films of a design.

import type { Part, Recipe } from './recipe'
import { editRecipeOnce, useDesign } from './store'

/** The recipe with all that is cut from one film cut from another: parts, letters and contours. */
export function withFilm(recipe: Recipe, from: string, to: string): Recipe {
  const old = from.toUpperCase()
  const changed = (film: string) => (film.toUpperCase() === old ? to : film)
  /** A table of things that may have a film of their own. */
  const recoloured = <T extends { film?: string | null }>(things: Record<string, T> | undefined) =>
    Object.fromEntries(
      Object.entries(things ?? {}).map(([key, thing]) => [
        key,
        thing.film ? { ...thing, film: changed(thing.film) } : thing,
      ]),
    )
  const parts = recipe.parts.map((part): Part => {
    const film = changed(part.film)
    switch (part.kind) {
      case 'lettering':
        return { ...part, film, letters: recoloured(part.letters) }
      case 'artwork':
        return {
          ...part,
          film,
          items: part.items.map((item) => ({ ...item, film: changed(item.film) })),
          contours: recoloured(part.contours),
        }
      case 'combination': {
        const films = Object.entries(part.films ?? {}).map(([key, own]) => [key, changed(own)])
        return { ...part, film, films: Object.fromEntries(films) }
      }
      default:
        return { ...part, film }
    }
  })
  return { ...recipe, parts }
}

/** Gives all that is cut from one film another one. */
export function giveFilm(from: string, to: string) {
  const { recipe } = useDesign.getState()
  editRecipeOnce({ parts: withFilm(recipe, from, to).parts })
}
