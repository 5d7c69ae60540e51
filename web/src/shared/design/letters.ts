// What a hand has done to single letters: found, changed, and carried along when the text is edited.

import type { Schemas } from '../api/client'
import { type Lettering, letteringOf, type Recipe, withPart } from './recipe'

export type LetterChange = Schemas['LetterChange']
export type SeamAfter = Schemas['SeamAfter']
export type FlowShape = Schemas['FlowShape']

/** A seam for which nothing is decided. */
export const NO_SEAM: SeamAfter = { way: null, trim: null, flow: null, smooth_mm: null }

/** A letter as the face sets it. */
const AS_SET: LetterChange = {
  dx: 0,
  dy: 0,
  carry: 0,
  after: 0,
  turn: 0,
  scale: 1,
  alternates: {},
  face: null,
  apart: null,
  seam: NO_SEAM,
  marks: null,
  mark_shape: null,
  shape: null,
  stand_in: null,
  film: null,
}

/** All that is done to a letter itself, undone; what was decided for its seam stays. */
export const UNTOUCHED: Partial<LetterChange> = Object.fromEntries(
  Object.entries(AS_SET).filter(([key]) => key !== 'seam'),
)

/** The id of each character of the text; they count from 1 until a text with changes is edited. */
export function idsOf(part: Lettering): number[] {
  const characters = Array.from(part.text)
  const ids = part.letter_ids ?? []
  return ids.length === characters.length ? [...ids] : characters.map((_, n) => n + 1)
}

/** What a hand has done to a letter. */
export function changeOf(part: Lettering, id: number): LetterChange {
  return { ...AS_SET, ...part.letters?.[id] }
}

/** Whether anything was done to a letter. */
export const isChanged = (part: Lettering, id: number) => part.letters?.[id] !== undefined

/** The part with some letters changed; a letter that is as the face sets it keeps no entry. */
export function withLetters(
  part: Lettering,
  ids: readonly number[],
  change: (now: LetterChange, id: number) => Partial<LetterChange>,
): Pick<Lettering, 'letters' | 'letter_ids'> {
  const letters = { ...part.letters }
  for (const id of ids) {
    const now = changeOf(part, id)
    const next = { ...now, ...change(now, id) }
    if (isAsSet(next)) delete letters[id]
    else letters[id] = next
  }
  const named = Object.keys(letters).length > 0 || (part.letter_ids ?? []).length > 0
  return { letters, letter_ids: named ? idsOf(part) : [] }
}

function isAsSet(change: LetterChange): boolean {
  const { alternates, seam, ...plain } = change
  return (
    Object.keys(alternates ?? {}).length === 0 &&
    Object.values(seam ?? {}).every((decided) => decided == null) &&
    (Object.keys(plain) as (keyof typeof plain)[]).every((key) => plain[key] === AS_SET[key])
  )
}

/** Signs that no cutter can cut, as the server sees them: control characters, but for the end of a line. */
const NO_SIGNS = /(?!\n)[\p{Cc}\p{Cs}]/gu

/** A text as a recipe keeps it: composed, its lines ended alike, without signs that cannot be cut. */
export const plainText = (typed: string) =>
  typed.replace(/\r\n?/g, '\n').replace(/\t/g, ' ').replace(NO_SIGNS, '').normalize('NFC')

/** The part with another text. Letters that stay keep what was done to them; only that of letters that
 * are gone goes with them, and their ids are never used again. */
export function withText(
  part: Lettering,
  typed: string,
): Pick<Lettering, 'text' | 'letters' | 'letter_ids' | 'next_letter_id'> {
  const text = plainText(typed)
  const before = idsOf(part)
  const fresh = Math.max(part.next_letter_id ?? 1, ...before.map((id) => id + 1))
  const { ids, next } = carried(Array.from(part.text), before, Array.from(text), fresh)
  const kept = new Set(ids)
  const letters = Object.fromEntries(
    Object.entries(part.letters ?? {}).filter(([id]) => kept.has(Number(id))),
  )
  return { text, letters, letter_ids: ids, next_letter_id: next }
}

/** The design with the letters of some parts named by ids that stay, as what holds to them needs. */
export const withKeptIds = (recipe: Recipe, parts: ReadonlySet<string>): Recipe => ({
  ...recipe,
  parts: recipe.parts.map((part) =>
    part.kind === 'lettering' && parts.has(part.id) ? { ...part, letter_ids: idsOf(part) } : part,
  ),
})

/** Whether what a place names is there: a letter of a part, or the part. */
export function isThere(recipe: Recipe, { part: id, letter }: Pick<Schemas['Anchor'], 'part' | 'letter'>) {
  const part = recipe.parts.find((p) => p.id === id)
  if (part === undefined) return false
  return part.kind !== 'lettering' || letter == null || idsOf(part).includes(letter)
}

/** The design without bridges whose letters are gone from a part. */
export function withoutLostBars(recipe: Recipe, partId: string): Pick<Recipe, 'bars'> {
  const part = recipe.parts.find((p) => p.id === partId)
  const kept = new Set(part?.kind === 'lettering' ? idsOf(part) : [])
  const holds = ({ part: of, letter }: Schemas['Anchor']) => of !== partId || kept.has(letter ?? -1)
  return { bars: recipe.bars.filter((bar) => holds(bar.start) && holds(bar.end)) }
}

/** The design with another text for a part, typed since it was as in ``before``: letters that were there then and
 * are there again keep what was done to them and what holds to them, though the words were cleared meanwhile. */
export function withTypedText(recipe: Recipe, before: Recipe, partId: string, typed: string) {
  const now = withPart(recipe, partId, withText(letteringOf(before, partId), typed))
  return { ...now, ...withoutLostBars({ ...now, bars: before.bars }, partId) }
}

/** Ids for a new text: those of the longest run of characters both texts share, new ones for the rest; and the
 * next that is new. */
function carried(before: string[], ids: number[], after: string[], fresh: number) {
  let next = fresh
  // length[i][j]: the longest common run of before from i and after from j.
  const length = Array.from({ length: before.length + 1 }, () => new Uint16Array(after.length + 1))
  const at = (i: number, j: number) => length[i]?.[j] ?? 0
  for (let i = before.length - 1; i >= 0; i--)
    for (let j = after.length - 1; j >= 0; j--) {
      const row = length[i]
      if (row) row[j] = before[i] === after[j] ? at(i + 1, j + 1) + 1 : Math.max(at(i + 1, j), at(i, j + 1))
    }
  const found: number[] = []
  let i = 0
  for (let j = 0; j < after.length; j++) {
    while (i < before.length && before[i] !== after[j] && at(i + 1, j) >= at(i, j + 1)) i++
    if (i < before.length && before[i] === after[j]) found.push(ids[i++] ?? next++)
    else found.push(next++)
  }
  return { ids: found, next }
}
