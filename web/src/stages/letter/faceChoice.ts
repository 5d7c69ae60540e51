// Which faces of the list are shown, and in which order.

import type { FaceOut } from '../../shared/design/recipe'

export const KINDS = [
  { value: 'all', label: 'All' },
  { value: 'favourite', label: 'Favourites' },
  { value: 'script', label: 'Script' },
  { value: 'brush', label: 'Brush' },
  { value: 'school', label: 'Handwriting' },
  { value: 'serif', label: 'Classic' },
  { value: 'plain', label: 'Plain' },
  { value: 'slab', label: 'Slab' },
  { value: 'wide', label: 'Wide' },
  { value: 'condensed', label: 'Narrow' },
  { value: 'rounded', label: 'Rounded' },
  { value: 'stencil', label: 'Stencil' },
  { value: 'own', label: 'Own' },
] as const

export type Kind = (typeof KINDS)[number]['value']

export const KIND_NAMES: Record<string, string> = Object.fromEntries(KINDS.map((k) => [k.value, k.label]))

export const JOINS = ['joins by itself', 'nearly joins', 'needs joining'] as const

export const LOOKS = [
  'thick',
  'fine',
  'even',
  'round',
  'narrow',
  'wide',
  'upright',
  'slanted',
  'swashes',
] as const

export interface FaceFilter {
  search: string
  kind: Kind
  looks: readonly string[]
  joins: string | null
  /** A writing system by its name. */
  system: string | null
}

export const ANY: FaceFilter = { search: '', kind: 'all', looks: [], joins: null, system: null }

export type Joins = FaceOut['joins'][number]

/** How a face joins in a writing system; where it does not write that, in its own. */
export const joinsIn = (face: FaceOut, system: string): Joins | undefined =>
  face.joins.find((joins) => joins.system === system) ?? face.joins[0]

/** The writing systems of the faces, those of most faces first. */
export function systemsOf(faces: readonly FaceOut[]): string[] {
  const counts = new Map<string, number>()
  for (const system of faces.flatMap((face) => face.systems))
    counts.set(system, (counts.get(system) ?? 0) + 1)
  return [...counts.keys()].toSorted((a, b) => (counts.get(b) ?? 0) - (counts.get(a) ?? 0))
}

/** Whether a face is meant by a word: its name, its kind, what it writes or how it looks. */
function isMeant(face: FaceOut, word: string): boolean {
  const told = [face.name, KIND_NAMES[face.kind] ?? '', ...face.systems, ...face.looks]
  return told.some((one) => one.toLowerCase().includes(word))
}

interface Order {
  /** Faces used lately, newest first. */
  recent: readonly string[]
  /** Those that have all letters of the words; undefined while that is not known. */
  able: ReadonlySet<string> | undefined
  /** All faces, the most like a chosen one first. */
  like: readonly string[] | undefined
  /** The writing system of the words. */
  system: string
}

/** The faces that fit: those that have all letters first; of these the ones used lately, then the favourites; or all
 * by how much they are like another one. */
export function facesToShow(faces: readonly FaceOut[], filter: FaceFilter, order: Order): FaceOut[] {
  const wanted = filter.search.trim().toLowerCase()
  const fits = faces.filter(
    (face) =>
      (filter.kind === 'all' || (filter.kind === 'favourite' ? face.favourite : face.kind === filter.kind)) &&
      filter.looks.every((look) => face.looks.includes(look)) &&
      (filter.joins === null || joinsIn(face, order.system)?.words === filter.joins) &&
      (filter.system === null || face.systems.includes(filter.system)) &&
      isMeant(face, wanted),
  )
  const { recent, able, like } = order
  const likeness = like && new Map(like.map((slug, n) => [slug, n + 1]))
  function rank(face: FaceOut): number {
    if (likeness) return likeness.get(face.slug) ?? faces.length
    const used = recent.indexOf(face.slug)
    return used >= 0 ? used : face.favourite ? recent.length : recent.length + 1
  }
  const lacks = (face: FaceOut) => (able && !able.has(face.slug) ? 1 : 0)
  const shown = like ? fits.filter((face) => likeness?.has(face.slug)) : fits
  return shown.toSorted((a, b) => lacks(a) - lacks(b) || rank(a) - rank(b))
}
