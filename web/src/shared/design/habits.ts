// What the shop's hand always does to letters and pairs of letters of a face: kept by the server for all designs,
// and taken into a design with the lettering that it suits, so that the design stays as it is.

import type { Schemas } from '../api/client'
import { changeOf, idsOf, type LetterChange, NO_SEAM, withLetters } from './letters'
import type { Lettering } from './recipe'

export type Habit = Schemas['Habit']

/** A lettering holds no more, as the server sees it; the newest stay. */
export const MOST_HABITS = 200

/** The habits of a lettering; a draft of an older Fulgen knows none. */
export const habitsOf = (part: Lettering): readonly Habit[] => part.habits ?? []

const isOf = (habit: Habit, family: string, letters: string) =>
  habit.family === family && habit.letters === letters

/** What is always done to some letters in the face of a lettering. */
export const habitFor = (part: Lettering, letters: string): Habit | undefined =>
  habitsOf(part).find((habit) => isOf(habit, part.face.family, letters))

/** The two letters of a seam, where each is one sign; null where a face draws several as one. */
export function pairAt(part: Lettering, left: number): string | null {
  const signs = Array.from(part.text)
  const at = idsOf(part).indexOf(left)
  const pair = signs.slice(at, at + 2)
  return at >= 0 && pair.length === 2 && pair.every((sign) => /\S/.test(sign)) ? pair.join('') : null
}

const isDecided = (seam: LetterChange['seam']) =>
  seam?.way != null || seam?.trim != null || seam?.flow != null

/** The habit by which a seam is joined, unless it has been decided by itself. */
export function habitAt(part: Lettering, left: number): Habit | undefined {
  const pair = pairAt(part, left)
  const { seam } = changeOf(part, left)
  if (pair === null || isDecided(seam)) return undefined
  return habitFor(part, pair)
}

/** What was decided for a seam, and how far its letters were moved, as a habit: what is always done already goes on
 * where nothing else was decided. Null where nothing was done here. */
export function habitOf(part: Lettering, left: number): Habit | null {
  const letters = pairAt(part, left)
  const { after, seam } = changeOf(part, left)
  const carry = changeOf(part, rightOf(part, left)).carry ?? 0
  if (letters === null || (!isDecided(seam) && !after && !carry)) return null
  const before = habitFor(part, letters)
  return {
    family: part.face.family,
    letters,
    seam: (isDecided(seam) ? seam : before?.seam) ?? NO_SEAM,
    after: (after || before?.after || 0) + carry,
    shape: null,
  }
}

const rightOf = (part: Lettering, left: number) => {
  const ids = idsOf(part)
  return ids[ids.indexOf(left) + 1] ?? -1
}

const without = (part: Lettering, { family, letters }: Habit) =>
  habitsOf(part).filter((habit) => !isOf(habit, family, letters))

/** A lettering with a habit, in place of the one there was for these letters. */
export const withHabit = (part: Lettering, habit: Habit): Pick<Lettering, 'habits'> => ({
  habits: [...without(part, habit), habit].slice(-MOST_HABITS),
})

/** A lettering in which what was done at one seam has become a habit: all such pairs are joined so. */
export function withSeamAsHabit(part: Lettering, left: number, habit: Habit): Partial<Lettering> {
  const right = rightOf(part, left)
  const freed = withLetters(part, [left, right], (_, id) =>
    id === left ? { seam: NO_SEAM, after: 0 } : { carry: 0 },
  )
  return { ...freed, ...withHabit(part, habit) }
}

/** A lettering without a habit. */
export const withoutHabit = (part: Lettering, habit: Habit): Partial<Lettering> => ({
  habits: without(part, habit),
})
