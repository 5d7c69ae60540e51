// Pure changes of a recipe's parts: added, taken out, copied, ordered, and put together.

import { defaultsOf, mostOf, PART_DEFAULTS } from '../../shared/api/model'
import type { Operation } from '../../shared/design/partNames'
import {
  AT_ORIGIN,
  type Combination,
  findPart,
  type Holder,
  type Lettering,
  newLettering,
  type Part,
  type Recipe,
} from '../../shared/design/recipe'
import { type Placement, placedWithin } from '../../shared/evaluation/evaluation'
import { onlyPlaced } from '../../shared/evaluation/optimisticMoves'
import type { Spot } from '../../shared/view/view'

/** A design holds as many parts. */
export const MOST_PARTS = mostOf('Recipe', 'parts')

export type Halo = Combination['halo']
export const DEFAULT_HALO: Halo = defaultsOf('Halo')

/** An id that no part has had in the recipe: the kind and a number. */
export function freshId(recipe: Recipe, kind: string, taken: readonly string[] = []): string {
  const known = new Set([...recipe.parts.map((p) => p.id), ...taken])
  let n = 1
  while (known.has(`${kind}-${n}`)) n++
  return `${kind}-${n}`
}

type Kind = Part['kind']
type OfKind<K extends Kind> = Extract<Part, { kind: K }>

/** What of a kind has to be said: all that has no default. */
type Draft<K extends Kind> = Omit<OfKind<K>, keyof (typeof PART_DEFAULTS)[K]> & Partial<OfKind<K>>

/** A new part of a kind with all that is not said of it as the model has it. */
export const partOf = <K extends Kind>(kind: K, draft: Draft<K>) =>
  ({ ...PART_DEFAULTS[kind], kind, ...draft }) as unknown as OfKind<K>

/** A new part in the film of the last one, where it is put. */
export function newPart<K extends Kind>(
  recipe: Recipe,
  kind: K,
  draft: Omit<Draft<K>, 'id' | 'place'>,
  place: Placement = AT_ORIGIN,
): OfKind<K> {
  const film = kind === 'backing' ? PART_DEFAULTS.backing.film : recipe.parts.at(-1)?.film
  return partOf(kind, { id: freshId(recipe, kind), ...(film ? { film } : {}), place, ...draft } as Draft<K>)
}

/** The recipe with a part after all others, or before the one it lies under. */
export function withNew(recipe: Recipe, part: Part): Recipe {
  if (part.kind !== 'backing') return { ...recipe, parts: [...recipe.parts, part] }
  const at = recipe.parts.findIndex((p) => p.id === part.of)
  const parent = parentOf(recipe, part.of)
  const parts = recipe.parts.toSpliced(Math.max(at, 0), 0, part)
  return parent
    ? withMembers({ ...recipe, parts }, parent.id, [...insideOf(parent), part.id])
    : { ...recipe, parts }
}

/** The parts that lie in a part: of a frame, what it is made of comes first. */
export const insideOf = (part: Part | undefined): string[] =>
  part?.kind === 'combination' || part?.kind === 'frame'
    ? [...(part.kind === 'frame' && part.ground ? [part.ground] : []), ...part.members]
    : []

const isHolder = (part: Part | undefined): part is Holder =>
  part?.kind === 'combination' || part?.kind === 'frame'

/** A holder with other parts in it. */
const holding = <H extends Holder>(holder: H, inside: string[]): H => ({
  ...holder,
  members: holder.kind === 'frame' ? inside.filter((id) => id !== holder.ground) : inside,
})

const withMembers = (recipe: Recipe, id: string, inside: string[]): Recipe => ({
  ...recipe,
  parts: recipe.parts.map((p) => (p.id === id && isHolder(p) ? holding(p, inside) : p)),
})

/** Whether fields of a part show the same for another version of it: while it is dragged, they stay. */
export const showsTheSame = (a: { part: Part }, b: { part: Part }): boolean => onlyPlaced(a.part, b.part)

/** The combination that a part is a member of, or the frame that it is a name in. */
export const parentOf = (recipe: Recipe, id: string): Holder | undefined =>
  recipe.parts.find((p): p is Holder => isHolder(p) && insideOf(p).includes(id))

/** Whether a part is a name in a frame: the frame says where it lies and how large it is. */
export function isFramed(recipe: Recipe, id: string): boolean {
  const parent = parentOf(recipe, id)
  return parent?.kind === 'frame' && parent.members.includes(id)
}

/** The part on the work that a part is in, or itself. */
export function topOf(recipe: Recipe, id: string): string {
  const parent = parentOf(recipe, id)
  return parent ? topOf(recipe, parent.id) : id
}

/** A part and all that is in it. */
export function withInner(recipe: Recipe, ids: readonly string[]): string[] {
  const inner = (id: string): string[] => [id, ...insideOf(findPart(recipe, id)).flatMap(inner)]
  return [...new Set(ids.flatMap(inner))]
}

/** The parts on a level, in their order: those of a combination, or those on the work. */
export function onLevel(recipe: Recipe, parent: string | null): Part[] {
  if (parent === null) {
    const inside = new Set(recipe.parts.flatMap(insideOf))
    return recipe.parts.filter((p) => !inside.has(p.id))
  }
  return insideOf(findPart(recipe, parent))
    .map((id) => findPart(recipe, id))
    .filter((p) => p !== undefined)
}

/** Parts that travel together with those chosen, on their level. */
export function travelling(recipe: Recipe, ids: readonly string[]): string[] {
  const bound = new Set(ids.map((id) => findPart(recipe, id)?.group_id).filter(Boolean))
  const more = recipe.parts.filter((p) => p.group_id && bound.has(p.group_id)).map((p) => p.id)
  return [...new Set([...ids, ...more])]
}

/** The recipe without some parts and all that is in them; what needs them goes as well. */
export function without(recipe: Recipe, ids: readonly string[]): Recipe {
  const gone = new Set(withInner(recipe, ids))
  let parts = recipe.parts
  for (;;) {
    const left = parts
      .filter((p) => !gone.has(p.id) && !needsGone(p, gone))
      .map((p) => (isHolder(p) ? { ...p, members: p.members.filter((m) => !gone.has(m)) } : p))
      .map((p): Part => (p.kind === 'lettering' && followsGone(p, gone) ? { ...p, course: null } : p))
      .filter((p) => p.kind !== 'combination' || p.members.length > 0)
    for (const p of parts) if (!left.some((q) => q.id === p.id)) gone.add(p.id)
    if (left.length === parts.length) {
      parts = left
      break
    }
    parts = left
  }
  const stays = ({ part }: { part: string }) => !gone.has(part)
  return {
    ...recipe,
    parts: parts.length > 0 ? parts : [newLettering({ id: 'lettering-1' })],
    bars: recipe.bars.filter((bar) => stays(bar.start) && stays(bar.end)),
    touch_ups: recipe.touch_ups.filter((t) => stays(t.at) && (!t.to || stays(t.to))),
    accepted_findings: recipe.accepted_findings.filter((k) => stays(k.at)),
  }
}

/** Whether a part is nothing without one that goes. */
const needsGone = (part: Part, gone: ReadonlySet<string>) =>
  (part.kind === 'backing' && gone.has(part.of)) ||
  (part.kind === 'frame' && part.ground != null && gone.has(part.ground))

/** Whether lettering runs along a part that goes: then it is straight again. */
const followsGone = ({ course }: Lettering, gone: ReadonlySet<string>) =>
  course?.of != null && gone.has(course.of)

/** Copies of parts and of all that is in them, moved in their level; with their ids. */
export function copied(
  recipe: Recipe,
  ids: readonly string[],
  by: Spot = { x: 6, y: 6 },
): { recipe: Recipe; copies: string[] } {
  const all = withInner(recipe, ids)
  const names = new Map<string, string>()
  for (const id of all) {
    const kind = findPart(recipe, id)?.kind ?? 'part'
    names.set(id, freshId(recipe, kind, [...names.values()]))
  }
  const renamed = (id: string) => names.get(id) ?? id
  const outer = new Set(ids)
  const parts = recipe.parts
    .filter((p) => names.has(p.id))
    .map((p): Part => {
      const moves = outer.has(p.id) && !(p.kind === 'backing' && names.has(p.of))
      const copy = {
        ...p,
        id: renamed(p.id),
        place: moves ? movedFrom(p, by, (id) => names.has(id)) : p.place,
        alignment: p.alignment
          ? { ...p.alignment, to: p.alignment.to ? renamed(p.alignment.to) : null }
          : null,
        group_id: '',
      }
      if (copy.kind === 'combination') return { ...copy, members: copy.members.map(renamed) }
      if (copy.kind === 'frame')
        return {
          ...copy,
          members: copy.members.map(renamed),
          ground: copy.ground ? renamed(copy.ground) : null,
        }
      if (copy.kind === 'lettering' && copy.course?.of)
        return { ...copy, course: { ...copy.course, of: renamed(copy.course.of) } }
      if (copy.kind === 'backing') return { ...copy, of: renamed(copy.of) }
      return copy
    })
  let next: Recipe = { ...recipe, parts: [...recipe.parts, ...parts] }
  for (const id of ids) {
    const parent = parentOf(recipe, id)
    if (parent && !all.includes(parent.id)) {
      const now = insideOf(findPart(next, parent.id))
      next = withMembers(next, parent.id, [...now, renamed(id)])
    }
  }
  return { recipe: next, copies: ids.map(renamed) }
}

/** A part's place moved on; by what it is aligned to, it goes along by itself. */
function movedFrom({ place, alignment }: Part, by: Spot, goes: (id: string) => boolean): Placement {
  const along = alignment?.to != null && goes(alignment.to)
  return {
    ...place,
    x: place.x + (along && alignment.across ? 0 : by.x),
    y: place.y + (along && alignment.down ? 0 : by.y),
  }
}

/** The letterings in a part, itself first. */
export const letteringsIn = (recipe: Recipe, id: string): Lettering[] =>
  withInner(recipe, [id])
    .map((inner) => findPart(recipe, inner))
    .filter((p): p is Lettering => p?.kind === 'lettering')

/** Another part of a combination becomes its ground. */
export const withGround = (recipe: Recipe, { id, members }: Combination, ground: string): Recipe =>
  withMembers(recipe, id, [ground, ...members.filter((m) => m !== ground)])

/** Parts of one level put together, the first of them the ground. */
export function combined(
  recipe: Recipe,
  ids: readonly string[],
  how: Operation,
  more: Partial<Pick<Combination, 'halo' | 'edges'>> = {},
): { recipe: Recipe; id: string } {
  const id = freshId(recipe, 'combination')
  const ground = findPart(recipe, ids[0] ?? '')
  const parent = parentOf(recipe, ids[0] ?? '')
  const made = partOf('combination', {
    id,
    ...(ground ? { film: ground.film } : {}),
    how,
    members: [...ids],
    ...more,
  })
  // It takes the place of the last of its members, so what lies over what stays as it was.
  const at = Math.max(...ids.map((member) => recipe.parts.findIndex((p) => p.id === member)))
  let next: Recipe = { ...recipe, parts: recipe.parts.toSpliced(at + 1, 0, made) }
  if (parent) {
    const inside = insideOf(parent)
    const first = inside.findIndex((m) => ids.includes(m))
    const members = inside.filter((m) => !ids.includes(m)).toSpliced(Math.max(first, 0), 0, id)
    next = withMembers(next, parent.id, members)
  }
  return { recipe: next, id }
}

/** A combination or a frame taken apart: what lies in it stays where it was. */
export function released(recipe: Recipe, id: string): { recipe: Recipe; members: string[] } {
  const whole = findPart(recipe, id)
  if (!whole || !isHolder(whole)) return { recipe, members: [] }
  const parent = parentOf(recipe, id)
  const inside = new Set(insideOf(whole))
  const parts = recipe.parts
    .filter((p) => p.id !== id)
    .map((p): Part => {
      if (!inside.has(p.id)) return p
      // A backing lies where its part does; only what moves it on is its own.
      if (p.kind === 'backing' && inside.has(p.of)) return p
      return { ...p, place: placedWithin(p.place, whole.place) }
    })
  let next: Recipe = without({ ...recipe, parts }, [])
  if (parent) {
    const members = insideOf(parent).flatMap((m) => (m === id ? [...inside] : [m]))
    next = withMembers(next, parent.id, members)
  }
  return { recipe: next, members: [...inside] }
}

/** A part one place further to the front of its level, or to the back. */
export function reordered(recipe: Recipe, id: string, by: 1 | -1): Recipe {
  const parent = parentOf(recipe, id)
  if (parent) {
    const inside = insideOf(parent)
    const at = inside.indexOf(id)
    const to = at + by
    if (to < 0 || to >= inside.length) return recipe
    return withMembers(recipe, parent.id, inside.toSpliced(at, 1).toSpliced(to, 0, id))
  }
  const level = onLevel(recipe, null).map((p) => p.id)
  const other = level[level.indexOf(id) + by]
  if (other === undefined) return recipe
  const [from, to] = [id, other].map((one) => recipe.parts.findIndex((p) => p.id === one))
  const part = recipe.parts[from ?? -1]
  if (!part || to === undefined || from === undefined) return recipe
  return { ...recipe, parts: recipe.parts.toSpliced(from, 1).toSpliced(to, 0, part) }
}

/** Parts that travel together from now on, or no longer. */
export function bound(recipe: Recipe, ids: readonly string[], together: boolean): Recipe {
  const known = new Set(recipe.parts.map((p) => p.group_id))
  let n = 1
  while (known.has(`crew-${n}`)) n++
  const group_id = together ? `crew-${n}` : ''
  return {
    ...recipe,
    parts: recipe.parts.map((p): Part => (ids.includes(p.id) ? { ...p, group_id } : p)),
  }
}
