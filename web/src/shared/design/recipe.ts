// The recipe as the workbench handles it: the server's types and pure changes of them.

import type { Schemas } from '../api/client'
import { defaultsOf, mostOf } from '../api/model'

export type Recipe = Schemas['Recipe']
export type Part = Recipe['parts'][number]
export type Lettering = Schemas['Lettering']
export type ShapePart = Schemas['ShapePart']
export type LinePart = Schemas['LinePart']
export type Artwork = Schemas['Artwork']
export type Ornament = Schemas['Ornament']
export type Backing = Schemas['Backing']
export type Combination = Schemas['Combination']
export type Frame = Schemas['Frame']
/** A part that others lie in. */
export type Holder = Combination | Frame
export type Course = Schemas['Course']
export type Warp = Schemas['Warp']
/** A change of a part: some fields of its kind. */
export type PartChange = {
  [K in Part['kind']]: Partial<Omit<Extract<Part, { kind: K }>, 'kind'>>
}[Part['kind']]
export type FaceOut = Schemas['FaceOut']
export type JoinOptions = NonNullable<Lettering['join']>
export type Bar = Schemas['Bar']
export type Material = Schemas['Material']
export type TouchUp = Schemas['TouchUp']
export type Unit = Recipe['unit']
/** What an outline is for. */
export type Use = Part['use']
export type SizeMeasure = Schemas['Size']['measure']

/** A design before one is opened. */
export const NO_RECIPE: Recipe = { ...defaultsOf('Recipe'), parts: [] }

/** All that can be is made ready to cut. */
export const ALL_READY: Schemas['Ready'] = { kinds_left: [], places_left: [] }

/** Findings that a design may hold as accepted: as many as its model takes. */
export const MOST_ACCEPTED_FINDINGS = mostOf('Recipe', 'accepted_findings')

/** The part with this id. */
export const findPart = (recipe: Recipe, id: string): Part | undefined =>
  recipe.parts.find((p) => p.id === id)

/** The lettering with this id, or the first there is; one without words where there is none. */
export function letteringOf(recipe: Recipe, id: string): Lettering {
  const part = findPart(recipe, id)
  if (part?.kind === 'lettering') return part
  return recipe.parts.find((p) => p.kind === 'lettering') ?? NO_LETTERING
}

/** A part as it is placed when nothing is said. */
export const AT_ORIGIN: Schemas['Placement'] = defaultsOf('Placement')

const AS_SET: JoinOptions = defaultsOf('JoinOptions')

const NO_LETTERING: Lettering = { ...defaultsOf('Lettering'), kind: 'lettering', id: '' }

/** A lettering as a maker begins it. */
export const newLettering = (more: Partial<Lettering> = {}): Lettering => ({ ...NO_LETTERING, ...more })

/** Whether a part is lettering in which nothing is typed yet. */
export const isBlank = (part: Part) => part.kind === 'lettering' && part.text.trim() === ''

/** The recipe with one part changed. */
export function withPart(recipe: Recipe, id: string, change: PartChange): Recipe {
  const changed = (p: Part): Part => ({ ...p, ...change }) as Part
  return { ...recipe, parts: recipe.parts.map((p) => (p.id === id ? changed(p) : p)) }
}

/** Another face for a part; what only the old face could do goes. */
export function faceChange(part: Lettering, face: FaceOut): Pick<Lettering, 'face' | 'features'> {
  const able = new Set(face.features.map((f) => f.tag))
  const keptWeight = face.axes.some((a) => a.tag === 'wght') || face.weights.includes(part.face.weight ?? 0)
  return {
    face: { family: face.slug, weight: keptWeight ? (part.face.weight ?? null) : null, axes: {} },
    features: Object.fromEntries(Object.entries(part.features ?? {}).filter(([tag]) => able.has(tag))),
  }
}

/** How a part is joined; as the face sets it where nothing is said. */
export const joinOf = (join: JoinOptions | undefined): JoinOptions => ({ ...AS_SET, ...join })
