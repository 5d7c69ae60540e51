import { expect, it } from 'vitest'
import { counted, nounOf } from './counted'

it('counts things in words', () => {
  expect([0, 1, 2].map((n) => counted(n, 'piece'))).toEqual(['0 pieces', '1 piece', '2 pieces'])
  expect(counted(1, 'contour lies', 'contours lie')).toBe('1 contour lies')
  expect(nounOf(2, 'dot or accent', 'dots or accents')).toBe('dots or accents')
})
