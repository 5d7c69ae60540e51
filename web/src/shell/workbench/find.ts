// Finds actions by a few letters of what they do.

import { plainly } from '../../shared/design/plainly'

export interface Findable {
  does: string
  /** Other words that it is looked for by. */
  also?: string
}

const wordsOf = (text: string) =>
  plainly(text)
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)

/** How well what is typed fits: each typed word begins a word of what it does, or of what else it is called;
 * the lower the better, null where it does not fit. */
export function rankOf({ does, also = '' }: Findable, typed: string): number | null {
  const wanted = wordsOf(typed)
  const own = wordsOf(does)
  const others = wordsOf(also)
  let rank = 0
  for (const word of wanted) {
    const at = own.findIndex((w) => w.startsWith(word))
    if (at >= 0) rank += at + (own[at] === word ? 0 : 0.5)
    else if (others.some((w) => w.startsWith(word))) rank += 20
    else if (word.length > 2 && [...own, ...others].some((w) => w.includes(word))) rank += 40
    else return null
  }
  return rank
}

/** What fits, best first; all of it in its own order while nothing is typed. */
export function ranked<T extends Findable>(all: readonly T[], typed: string): T[] {
  return all
    .map((one, n) => ({ one, n, rank: rankOf(one, typed) }))
    .filter((row) => row.rank !== null)
    .toSorted((a, b) => (a.rank ?? 0) - (b.rank ?? 0) || a.n - b.n)
    .map(({ one }) => one)
}
