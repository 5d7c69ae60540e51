// What a hand has done to single letters: found, changed, and carried along when the text is edited.

import type { Schemas } from '../api/client'
import type { Lettering } from './recipe'

export type LetterChange = Schemas['LetterChange']
export type SeamAfter = Schemas['SeamAfter']

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
  seam: { way: null, trim: null },
  marks: null,
  mark_shape: null,
  shape: null,
  stand_in: null,
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
    seam?.way == null &&
    seam?.trim == null &&
    (Object.keys(plain) as (keyof typeof plain)[]).every((key) => plain[key] === AS_SET[key])
  )
}

/** The part with another text. Letters that stay keep what was done to them; only that of letters that
 * are gone goes with them. */
export function withText(
  part: Lettering,
  typed: string,
): Pick<Lettering, 'text' | 'letters' | 'letter_ids' | 'bars'> {
  const text = typed.normalize('NFC')
  if ((part.letter_ids ?? []).length === 0 && Object.keys(part.letters ?? {}).length === 0)
    return { text, letters: {}, letter_ids: [], bars: part.bars ?? [] }
  const ids = carried(Array.from(part.text), idsOf(part), Array.from(text))
  const kept = new Set(ids)
  const letters = Object.fromEntries(
    Object.entries(part.letters ?? {}).filter(([id]) => kept.has(Number(id))),
  )
  const bars = (part.bars ?? []).filter((bar) => kept.has(bar.start.letter) && kept.has(bar.end.letter))
  return { text, letters, letter_ids: ids, bars }
}

/** Ids for a new text: those of the longest run of characters both texts share, new ones for the rest. */
function carried(before: string[], ids: number[], after: string[]): number[] {
  let fresh = Math.max(0, ...ids) + 1
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
    if (i < before.length && before[i] === after[j]) found.push(ids[i++] ?? fresh++)
    else found.push(fresh++)
  }
  return found
}
