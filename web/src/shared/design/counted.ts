// Numbers of things in words.

/** The word for so many: piece, pieces. */
export const nounOf = (count: number, one: string, many = `${one}s`) => (count === 1 ? one : many)

/** So many of a thing: 1 piece, 3 pieces. */
export const counted = (count: number, one: string, many = `${one}s`) =>
  `${count} ${nounOf(count, one, many)}`
