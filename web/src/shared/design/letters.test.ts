import { describe, expect, test } from 'vitest'
import { recipeOf, tern } from '../testing'
import { changeOf, idsOf, plainText, withLetters, withoutLostBars, withText, withTypedText } from './letters'
import { letteringOf, type Recipe } from './recipe'

const adjusted = (text: string, id: number) => {
  const part = tern({ text })
  return { ...part, ...withLetters(part, [id], () => ({ dy: 0.1 })) }
}

describe('the text edited', () => {
  test('letters that stay keep what was done to them', () => {
    const part = adjusted('Tern', 3)
    const now = { ...part, ...withText(part, 'The Tern') }
    expect(changeOf(now, idsOf(now)[6] ?? 0).dy).toBe(0.1)
    expect(now.letters).toEqual({ 3: changeOf(part, 3) })
  })

  test('an id is never used again, not even that of the last letter', () => {
    let part = adjusted('Ho', 2)
    part = { ...part, ...withText(part, 'H') }
    expect(part.letters).toEqual({})
    part = { ...part, ...withText(part, 'Hd') }
    expect(part.letter_ids).toEqual([1, 3])
    part = { ...part, ...withText(part, '') }
    part = { ...part, ...withText(part, 'Ho') }
    expect(part.letter_ids).toEqual([4, 5])
    expect(part.next_letter_id).toBe(6)
  })

  test('a word typed anew keeps what held to the letters that it still has', () => {
    const part = adjusted('Marina', 6)
    const bar = {
      start: { part: part.id, letter: 2, x: 0, y: 0, of: '' },
      end: { part: part.id, letter: 6, x: 0, y: 0, of: '' },
      width_mm: 1.2,
      bulge: 0,
    }
    const before: Recipe = { ...recipeOf([part]), bars: [bar] }
    let now = before
    for (const typed of ['', 'M', 'Ma', 'Mar', 'Mart', 'Marti', 'Martin', 'Martina'])
      now = withTypedText(now, before, part.id, typed)
    const typed = letteringOf(now, part.id)
    expect(typed.text).toBe('Martina')
    expect(typed.letter_ids).toEqual([1, 2, 3, 7, 4, 5, 6])
    expect(changeOf(typed, 6).dy).toBe(0.1)
    expect(now.bars).toEqual([bar])
    expect(withTypedText(now, before, part.id, 'Bo').bars).toEqual([])
  })

  test('a recipe that says its next id is taken at its word', () => {
    const part = tern({ text: 'Ho', letter_ids: [1, 2], next_letter_id: 40 })
    expect(withText(part, 'Hob').letter_ids).toEqual([1, 2, 40])
  })

  test('the longest run of letters that both texts share is kept', () => {
    const part = tern({ text: 'abcabc', letter_ids: [1, 2, 3, 4, 5, 6] })
    expect(withText(part, 'bcabc').letter_ids).toEqual([2, 3, 4, 5, 6])
    expect(withText(part, 'cab').letter_ids).toEqual([3, 4, 5])
    expect(withText(part, 'abcXabc').letter_ids).toEqual([1, 2, 3, 7, 4, 5, 6])
  })

  test('signs beyond the first plane are one letter each', () => {
    const part = tern({ text: 'a𝄞b' })
    expect(withText(part, 'a𝄞b𝄞').letter_ids).toEqual([1, 2, 3, 4])
  })
})

describe('a text as the server keeps it', () => {
  test.each([
    ['A\vBC', 'ABC'],
    ['A\u0000B\u009fC\ud800', 'ABC'],
    ['one\r\ntwo\rthree\nfour', 'one\ntwo\nthree\nfour'],
    ['a\tb', 'a b'],
    ['Zoe\u0308', 'Zoë'],
  ])('%j is %j', (typed, kept) => {
    expect(plainText(typed)).toBe(kept)
  })

  test('a control character shifts no id', () => {
    expect(withText(tern({ text: 'ABC', letter_ids: [5, 7, 8] }), 'A\vBC').letter_ids).toEqual([5, 7, 8])
  })
})

test('a letter put back as the face sets it keeps no entry', () => {
  const part = adjusted('Tern', 2)
  expect(part.letters).toHaveProperty('2')
  expect(withLetters(part, [2], () => ({ dy: 0 })).letters).toEqual({})
})

test('a bridge goes with its letter, and one between other parts stays', () => {
  const end = (part: string, letter: number) => ({ part, letter, contour: null, x: 0, y: 0, of: '' })
  const bar = (a: ReturnType<typeof end>, b: ReturnType<typeof end>) => ({
    start: a,
    end: b,
    width_mm: 2,
    bulge: 0,
  })
  const recipe = recipeOf([tern({ id: 'one', text: 'Te', letter_ids: [1, 2] }), tern({ id: 'two' })], {
    bars: [
      bar(end('one', 1), end('one', 3)),
      bar(end('one', 2), end('two', 9)),
      bar(end('two', 1), end('two', 2)),
    ],
  })
  expect(withoutLostBars(recipe, 'one').bars).toEqual(recipe.bars.slice(1))
})
