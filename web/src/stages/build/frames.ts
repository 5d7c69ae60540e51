// Frames put on the work: pure changes of a recipe.

import type { Schemas } from '../../shared/api/client'
import { defaultsOf } from '../../shared/api/model'
import {
  ALL_READY,
  AT_ORIGIN,
  type Frame,
  findPart,
  type Lettering,
  newLettering,
  type Part,
  type Recipe,
} from '../../shared/design/recipe'
import { type Evaluation, type Placement, placedWithin, undone } from '../../shared/evaluation/evaluation'
import { kept } from './levels'
import { freshId, insideOf, onLevel, partOf } from './parts'

export type FrameForm = Schemas['FrameFormOut']
export type Fit = Frame['fit']
export type OwnBand = Frame['bands'][number]
export type Manner = OwnBand['manner']

/** How wide a new frame is. */
const WIDE_MM = 80

export const DEFAULT_FIT: Fit = defaultsOf('Fit')

/** A name as frames want it: its letters joined, its dots with them, all of it one piece. */
const joinedAsOne = (name: Lettering): Lettering => ({
  ...name,
  course: null,
  alignment: null,
  join: { ...name.join, how: 'auto', marks: 'lower', tie: true },
})

export const newFrame = (id: string, film: string, place: Placement, more: Partial<Frame> = {}): Frame =>
  partOf('frame', { id, film, place, width_mm: WIDE_MM, height_mm: WIDE_MM, ...more })

/** A frame of the library, as large as is usual. */
export const ofForm = ({ name, ratio }: FrameForm): Partial<Frame> => ({
  form: name,
  width_mm: WIDE_MM,
  height_mm: Math.round((WIDE_MM / ratio) * 10) / 10,
})

/** Letterings that can go into a new frame: those chosen, else the first on the work; blank ones last. */
export function namesFor(recipe: Recipe, chosen: readonly string[], most: number): Lettering[] {
  const free = onLevel(recipe, null).filter((p): p is Lettering => p.kind === 'lettering' && !p.locked)
  const picked = free.filter((p) => chosen.includes(p.id))
  const found = picked.length > 0 ? picked : free.filter((p) => p.text.trim() !== '').slice(0, 1)
  const names = found.length > 0 ? found : free.slice(0, 1)
  return names.slice(0, most)
}

/** The recipe with names in a new frame, which lies where the first of them lay. */
export function framed(
  recipe: Recipe,
  names: readonly Lettering[],
  more: Partial<Frame>,
  place: Placement = AT_ORIGIN,
): { recipe: Recipe; id: string } {
  const id = freshId(recipe, 'frame')
  const first = names[0] ?? newLettering({ id: freshId(recipe, 'lettering') })
  const all = names.length > 0 ? names : [first]
  const ids = new Set(all.map((name) => name.id))
  const frame = newFrame(id, first.film, place, { ...more, members: [...ids] })
  // A frame that has a film of its own gives it to its names: two films do not hold each other.
  const inFilm = (name: Lettering) => (more.film ? { ...name, film: more.film } : name)
  const kept = recipe.parts.map(
    (p): Part => (ids.has(p.id) && p.kind === 'lettering' ? inFilm(joinedAsOne(p)) : p),
  )
  const added = all
    .filter((name) => !findPart(recipe, name.id))
    .map(joinedAsOne)
    .map(inFilm)
  // A frame makes no fault of its own: what lies too near its edges is mended from the start.
  return { recipe: { ...recipe, ready: recipe.ready ?? ALL_READY, parts: [...kept, ...added, frame] }, id }
}

/** One more name in a frame, set like those that are there. */
export function withName(recipe: Recipe, frame: Frame): { recipe: Recipe; id: string } {
  const id = freshId(recipe, 'lettering')
  const like = frame.members.map((m) => findPart(recipe, m)).find((p) => p?.kind === 'lettering')
  const base = like?.kind === 'lettering' ? like : newLettering()
  const name = joinedAsOne({
    ...base,
    id,
    name: '',
    text: '',
    letter_ids: [],
    next_letter_id: 1,
    letters: {},
    film: frame.film,
    place: AT_ORIGIN,
  })
  const parts = recipe.parts.map(
    (p): Part => (p.id === frame.id ? { ...frame, members: [...frame.members, id] } : p),
  )
  const at = parts.findIndex((p) => p.id === frame.id)
  return { recipe: { ...recipe, parts: parts.toSpliced(at, 0, name) }, id }
}

/** A part made a frame of its own, with one band in its middle. */
export function madeFrame(
  recipe: Recipe,
  ground: Part,
  box: { x: number; y: number; width: number; height: number },
  names: readonly Lettering[],
): { recipe: Recipe; id: string } {
  const band: OwnBand = {
    x: Math.round((box.x + box.width / 2) * 100) / 100,
    y: Math.round((box.y + box.height / 2) * 100) / 100,
    width_mm: Math.round(box.width * 0.6 * 100) / 100,
    height_mm: Math.round(box.height * 0.3 * 100) / 100,
    manner: 'across',
    edges: [],
  }
  return framed(recipe, names, {
    form: 'own',
    ground: ground.id,
    bands: [band],
    width_mm: box.width,
    height_mm: box.height,
    film: ground.film,
  })
}

/** The recipe with the names of a frame as large as they are fitted, and where they lie in it: what they are once
 * the frame is taken away. */
export function asFitted(recipe: Recipe, evaluation: Evaluation | undefined, frame: Frame): Recipe {
  const view = evaluation?.parts.find((p) => p.id === frame.id)
  if (!view) return recipe
  const settled = (part: Part): Part => {
    const name = evaluation?.parts.find((p) => p.id === part.id)
    if (part.kind !== 'lettering' || !frame.members.includes(part.id) || !name?.made) return part
    const { scale, ...place } = placedWithin(name.place, undone(view.place))
    const mm = Math.round(name.made.capital_height_mm * scale * 1e4) / 1e4
    const stretch = view.made?.bands.find((band) => band.name === part.id)?.stretch ?? 1
    return {
      ...part,
      place: kept({ ...place, scale: 1 }),
      size: { measure: 'capitals', mm: Math.min(3000, Math.max(1, mm)) },
      stretch: Math.round(part.stretch * stretch * 1e5) / 1e5,
    }
  }
  return { ...recipe, parts: recipe.parts.map(settled) }
}

/** A frame with what it is made of and without its names, as a recipe of its own: to be kept. */
export function alone(recipe: Recipe, frame: Frame): Recipe {
  const inner = (id: string): string[] => [id, ...insideOf(findPart(recipe, id)).flatMap(inner)]
  const ids = new Set(frame.ground ? inner(frame.ground) : [])
  const parts = recipe.parts.filter((p) => ids.has(p.id))
  return {
    ...recipe,
    bars: [],
    touch_ups: [],
    accepted_findings: [],
    parts: [...parts, { ...frame, members: [], name: '', place: AT_ORIGIN }],
  }
}

/** The recipe with a kept frame put on it, with names in it. */
export function withKept(
  recipe: Recipe,
  stored: Recipe,
  names: readonly Lettering[],
  name: string,
): { recipe: Recipe; id: string } {
  const ids = new Map<string, string>()
  for (const part of stored.parts) ids.set(part.id, freshId(recipe, part.kind, [...ids.values()]))
  const renamed = (id: string) => ids.get(id) ?? id
  const parts = stored.parts
    .filter((p) => p.kind !== 'frame')
    .map((p): Part => {
      const copy = { ...p, id: renamed(p.id) }
      if (copy.kind === 'combination') return { ...copy, members: copy.members.map(renamed) }
      return copy.kind === 'backing' ? { ...copy, of: renamed(copy.of) } : copy
    })
  const frame = stored.parts.find((p): p is Frame => p.kind === 'frame')
  return framed({ ...recipe, parts: [...recipe.parts, ...parts] }, names, {
    ...frame,
    id: renamed(frame?.id ?? ''),
    ground: frame?.ground ? renamed(frame.ground) : null,
    name,
  })
}
