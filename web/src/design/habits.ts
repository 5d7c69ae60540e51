// What the shop's hand always does to letters and pairs of letters of a face: kept by the server for all designs,
// and taken into a design with the lettering that it suits, so that the design stays as it is.

import type { Schemas } from '../api/client'
import { changeOf, idsOf, withLetters } from './letters'
import type { Lettering } from './recipe'

export type Habit = Schemas['Habit']

export const NO_SEAM: Habit['seam'] = { way: null, trim: null, flow: null }

/** The habits of a lettering; a draft of an older Fulgen knows none. */
export const habitsOf = (part: Lettering): readonly Habit[] => part.habits ?? []

const isOf = (habit: Habit, family: string, letters: string) =>
  habit.family === family && habit.letters === letters

/** The two letters of a seam, where each is one sign; null where a face draws several as one. */
export function pairAt(part: Lettering, left: number): string | null {
  const signs = Array.from(part.text)
  const at = idsOf(part).indexOf(left)
  const pair = signs.slice(at, at + 2)
  return at >= 0 && pair.length === 2 && pair.every((sign) => /\S/.test(sign)) ? pair.join('') : null
}

/** The habit by which a seam is joined, unless it has been decided by itself. */
export function habitAt(part: Lettering, left: number): Habit | undefined {
  const pair = pairAt(part, left)
  const { seam } = changeOf(part, left)
  if (pair === null || seam?.way != null || seam?.trim != null || seam?.flow != null) return undefined
  return habitsOf(part).find((habit) => isOf(habit, part.face.family, pair))
}

/** What was decided for a seam, and how far its letters were moved, as a habit; null where nothing was. */
export function habitOf(part: Lettering, left: number): Habit | null {
  const letters = pairAt(part, left)
  const { after, seam } = changeOf(part, left)
  const moved = (after ?? 0) + (changeOf(part, rightOf(part, left)).carry ?? 0)
  const decided = seam?.way != null || seam?.trim != null || seam?.flow != null
  if (letters === null || (!decided && moved === 0)) return null
  return { family: part.face.family, letters, seam: seam ?? NO_SEAM, after: moved, shape: null }
}

const rightOf = (part: Lettering, left: number) => {
  const ids = idsOf(part)
  return ids[ids.indexOf(left) + 1] ?? -1
}

const without = (part: Lettering, { family, letters }: Habit) =>
  habitsOf(part).filter((habit) => !isOf(habit, family, letters))

/** A lettering with a habit, in place of the one there was for these letters. */
export const withHabit = (part: Lettering, habit: Habit): Pick<Lettering, 'habits'> => ({
  habits: [...without(part, habit), habit],
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
