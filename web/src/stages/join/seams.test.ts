import { describe, expect, it } from 'vitest'
import type { Seam } from '../../shared/evaluation/evaluation'
import { around, figure, holds, isAsItsLetters, narrowest, pairName } from './seams'

const seam = (more: Partial<Seam>) =>
  ({
    state: 'joined',
    neck_mm: 1.234,
    gap_mm: 0,
    asked_mm: 1.2,
    given_mm: 1.2,
    at_least: false,
    ends: [
      { x: 0, y: 0 },
      { x: 3, y: 4 },
    ],
    ...more,
  }) as Seam

describe('what a seam says', () => {
  it('is its neck, finer where it is fine, or its gap', () => {
    expect(figure(seam({}), 'mm')).toBe('1.2 mm')
    expect(figure(seam({ neck_mm: 0.456 }), 'mm')).toBe('0.46 mm')
    expect(figure(seam({ neck_mm: 6, at_least: true }), 'mm')).toBe('≥ 6 mm')
    expect(figure(seam({ state: 'gap', gap_mm: 2.4 }), 'mm')).toBe('gap 2.4 mm')
    expect(figure(seam({ neck_mm: 2.54 }), 'in')).toBe('0.1 in')
  })

  it('is of two letters as they stand, the left one first', () => {
    expect(pairName('o', 's')).toBe('o · s')
    // Arabic letters are read from the right; a mark keeps them in their places (Unicode, annex 9: U+200E).
    expect(pairName('م', 'ي')).toBe('\u200eم\u200e · \u200eي')
  })

  it('is that it holds where it is as strong as its letters', () => {
    const lettering = seam({ state: 'lettering', neck_mm: 0.6 })
    expect([holds(lettering), isAsItsLetters(lettering)]).toEqual([true, true])
  })

  it('is weak for its letters only where they give less than asked, and the joint has what they give', () => {
    const weak = (given_mm: number, neck_mm: number) => seam({ state: 'weak', given_mm, neck_mm })
    expect(isAsItsLetters(weak(0.7, 0.68))).toBe(true)
    expect(isAsItsLetters(weak(0.7, 0.4))).toBe(false)
    expect(isAsItsLetters(weak(1.2, 1.1))).toBe(false)
  })
})

it('the narrowest neck leaves out what does not meet', () => {
  expect(narrowest([seam({ state: 'gap', neck_mm: 0 }), seam({ neck_mm: 2 }), seam({})])).toBe(1.234)
  expect(narrowest([seam({ state: 'gap', neck_mm: 0 })])).toBeNull()
})

it('a seam is looked at about its middle, a long one from further off, but never very far', () => {
  expect(around(seam({}), 20, 1)).toEqual({ x: -8.5, y: -8, width: 20, height: 20 })
  const long = seam({
    ends: [
      { x: 0, y: 0 },
      { x: 100, y: 0 },
    ],
  })
  expect(around(long, 20, 1).width).toBe(40)
})
