// What a new design begins with: as the one that was worked on last in this browser.

import { defaultsOf } from '../api/model'
import { isBlank, type Lettering, NO_RECIPE, newLettering, type Recipe } from './recipe'

const KEY = 'fulgen-last'

type Stock = NonNullable<Recipe['cut']['stocks']>[number]

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
    localStorage.setItem(STOCKS, JSON.stringify({ ...stocksKnown(), ...stocksOf(recipe) }))
  } catch {
    // Nothing is lost where the browser keeps nothing: the next design begins as the first one did.
  }
}

const STOCKS = 'fulgen-stocks'

/** What a sheet or roll of a material was, the last time it was said. */
type Measures = Pick<Stock, 'roll' | 'width_mm' | 'height_mm' | 'margin_mm'>

function stocksOf({ cut, material }: Recipe): Record<string, Measures> {
  const rows = (cut.stocks ?? []).map(({ material: own, roll, width_mm, height_mm, margin_mm }) => [
    own ?? material.name,
    { roll, width_mm, height_mm, margin_mm },
  ])
  return Object.fromEntries(rows)
}

function stocksKnown(): Record<string, Measures> {
  try {
    return JSON.parse(localStorage.getItem(STOCKS) ?? '{}') as Record<string, Measures>
  } catch {
    return {}
  }
}

const filmsOf = (recipe: Recipe) => new Set(recipe.parts.map((part) => part.film.toUpperCase()))

/** The recipe with what the films that are new in it were cut from last, by their material. */
export function withStocksAsLast(before: Recipe, after: Recipe): Recipe {
  if (before.parts === after.parts) return after
  const known = filmsOf(before)
  const said = new Set((after.cut.stocks ?? []).map((stock) => stock.film.toUpperCase()))
  const fresh = [...filmsOf(after)].filter((film) => !known.has(film) && !said.has(film))
  const measures = fresh.length > 0 ? stocksKnown()[after.material.name] : undefined
  if (!measures) return after
  const stocks = fresh.map((film): Stock => ({ ...defaultsOf('Stock'), ...measures, film }))
  return { ...after, cut: { ...after.cut, stocks: [...(after.cut.stocks ?? []), ...stocks] } }
}

/** The recipe that a new design begins with; nothing where this browser knows of none. */
export function beginning(): Recipe | undefined {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? 'null') as Beginning | null
    if (kept?.version !== NO_RECIPE.version) return undefined
    const { unit, material, materials, ready, machine, lettering } = kept
    return withStocksAsLast(NO_RECIPE, {
      ...NO_RECIPE,
      unit,
      material,
      materials,
      ready,
      cut: { ...NO_RECIPE.cut, machine },
      parts: [newLettering({ id: 'lettering-1', ...lettering, text: '' })],
    })
  } catch {
    return undefined
  }
}
