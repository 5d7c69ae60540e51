import { describe, expect, test } from 'vitest'
import { newLettering } from '../../shared/design/recipe'
import { timesAsLarge } from './moves'

const sized = (measure: 'width' | 'height' | 'capitals', mm: number) =>
  newLettering({ size: { measure, mm } })

describe('a letter moved while a change of the size is under way', () => {
  test('moves by the size that the lettering is to have', () => {
    expect(timesAsLarge(sized('capitals', 20), sized('capitals', 50))).toBe(2.5)
  })
  test('moves by the size there is, where another measure was chosen or nothing is known', () => {
    expect(timesAsLarge(sized('width', 20), sized('capitals', 50))).toBe(1)
    expect(timesAsLarge(undefined, sized('capitals', 50))).toBe(1)
  })
})
