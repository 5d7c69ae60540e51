// Parts made larger by hand: what can be stretched is, what cannot grows evenly.

import { limitsOf } from '../../shared/api/model'
import type { Lettering, Part, Recipe } from '../../shared/design/recipe'
import type { Evaluation } from '../../shared/evaluation/evaluation'
import { about, movedBy, placeAfter } from './arrange'
import { kept, viewOf } from './levels'
import { isFramed } from './parts'

export interface Growth {
  /** How many times as wide and as high. */
  across: number
  down: number
  /** The place on the work that stays. */
  x: number
  y: number
}

const STRETCHED: ReadonlySet<Part['kind']> = new Set(['shape', 'artwork', 'line', 'frame', 'lettering'])

/** Whether a part can be stretched in one direction: not while it is turned, nor where its words run along a
 * line or are bent. */
export const stretches = (part: Part) =>
  STRETCHED.has(part.kind) &&
  part.place.turn % 90 === 0 &&
  !(part.kind === 'lettering' && (part.course || part.warp))

const bounded = (value: number, { min, max }: { min: number; max: number }) =>
  Math.round(Math.min(max, Math.max(min, value)) * 1e4) / 1e4

/** The recipe with parts made larger about a place. */
export function grown(recipe: Recipe, evaluation: Evaluation, ids: ReadonlySet<string>, by: Growth): Recipe {
  return {
    ...recipe,
    parts: recipe.parts.map((part): Part => {
      const view = viewOf(evaluation, part.id)
      if (!ids.has(part.id) || !view || part.locked || isFramed(recipe, part.id)) return part
      if (part.kind === 'backing' && ids.has(part.of)) return part
      const even = stretches(part) ? by : { ...by, across: evenly(by), down: evenly(by) }
      return grownPart(recipe, evaluation, part, even)
    }),
  }
}

/** One factor for both ways: the one that changes more. */
export const evenly = ({ across, down }: Growth) =>
  Math.abs(Math.log(across)) > Math.abs(Math.log(down)) ? across : down

function grownPart(recipe: Recipe, evaluation: Evaluation, part: Part, by: Growth): Part {
  const view = viewOf(evaluation, part.id)
  if (!view) return part
  const scaled = { ...part, place: placeAfter(recipe, evaluation, part, about(by.x, by.y, by.across)) }
  if (part.kind === 'frame' && part.ground) return scaled
  const dx = (view.place.x - by.x) * (by.across - 1)
  const dy = (view.place.y - by.y) * (by.down - 1)
  const place = kept(placeAfter(recipe, evaluation, part, movedBy(dx, dy)))
  const upright = part.place.turn % 180 === 0
  const [wide, high] = upright ? [by.across, by.down] : [by.down, by.across]
  switch (part.kind) {
    case 'lettering':
      return { ...part, place, ...letteringGrown(part, wide, high) }
    case 'shape':
    case 'frame':
      return {
        ...part,
        place,
        width_mm: bounded(part.width_mm * wide, limitsOf('ShapePart', 'width_mm')),
        height_mm: bounded(part.height_mm * high, limitsOf('ShapePart', 'height_mm')),
      }
    case 'artwork':
      return {
        ...part,
        place,
        across: bounded((part.across ?? 1) * wide, limitsOf('Artwork', 'across')),
        down: bounded((part.down ?? 1) * high, limitsOf('Artwork', 'down')),
      }
    case 'ornament':
      return {
        ...part,
        place,
        height_mm: bounded(part.height_mm * by.across, limitsOf('Ornament', 'height_mm')),
      }
    case 'line':
      return {
        ...part,
        place,
        points: (part.points ?? []).map((p) => ({
          ...p,
          x: bounded(p.x * wide, limitsOf('PathPoint', 'x')),
          y: bounded(p.y * high, limitsOf('PathPoint', 'y')),
        })),
        swing_mm: bounded((part.swing_mm ?? 5) * high, limitsOf('LinePart', 'swing_mm')),
      }
    default:
      return scaled
  }
}

/** Lettering made so many times as wide and as high: its letters are stretched where the two are not alike. */
function letteringGrown(part: Lettering, wide: number, high: number) {
  const wanted = (part.stretch ?? 1) * (wide / high)
  const stretch = bounded(wanted, limitsOf('Lettering', 'stretch'))
  const by = part.size.measure === 'width' ? (high * stretch) / (part.stretch ?? 1) : high
  return {
    stretch,
    size: { ...part.size, mm: bounded(part.size.mm * by, limitsOf('Size', 'mm')) },
    spacing_mm: bounded((part.spacing_mm ?? 0) * wide, limitsOf('Lettering', 'spacing_mm')),
  }
}
