import { describe, expect, test } from 'vitest'
import type { Schemas } from '../api/client'
import { withLetters } from '../design/letters'
import type { Lettering, Recipe } from '../design/recipe'
import { letteringOf, recipeOf } from '../testing'
import { aheadOf } from './ahead'
import { assembled, Held, letterTransform, outlineOf } from './evaluation'

const box = { x: 0, y: -20, width: 40, height: 20 }
const piece = { d: 'M0 0L40 0L40 -20Z', area_mm2: 400, box, holes: 0, at: { x: 20, y: -5 } }
const letter = (id: number, line = 0) => ({
  id,
  at: id - 1,
  line,
  text: 'n',
  form: 'form',
  x: (id - 1) * 10,
  y: 0,
  box: { x: (id - 1) * 10, y: -20, width: 10, height: 20 },
  marks: 0,
})
const made = {
  key: 'made',
  letters: [letter(1), letter(2), letter(3), letter(4, 1)],
  extras: [],
  ties: [],
  baselines_mm: [0],
  capital_height_mm: 20,
  size_mm: 30,
  lost_shapes: [],
  waiting_shapes: [],
}
const place = { x: 0, y: 0, turn: 0, scale: 1, flip: false }

function told(whole: boolean): Schemas['EvaluationOut'] {
  return {
    box,
    films: [{ colour: '#2B5674', clusters: ['cluster'] }],
    parts: [{ id: 'one', made: 'made', film: '#2B5674', place, problem: null }],
    bridges: [],
    cut_length_mm: 100,
    nodes: 3,
    loose_marks: 0,
    clusters: whole ? [{ key: 'cluster', pieces: [piece] as Schemas['PieceOut'][] }] : [],
    made: whole ? [made as Schemas['MadeOut']] : [],
    forms: whole ? [{ key: 'form', d: 'M0 0Z' }] : [],
  }
}

describe('an answer by key', () => {
  const recipe = recipeOf([letteringOf()])

  test('what is known already is not needed again', () => {
    const held = new Held()
    const first = assembled(recipe, told(true), held)
    expect(held.keys().sort()).toEqual(['cluster', 'form', 'made'])
    expect(assembled(recipe, told(false), held)).toEqual(first)
    expect(outlineOf(first?.films[0] ?? { colour: '', clusters: [] })).toBe(piece.d)
  })

  test('where something is missing there is no evaluation, so that all is asked for', () => {
    expect(assembled(recipe, told(false), new Held())).toBeNull()
  })

  test('what was used longest ago is let go of, but nothing that an evaluation needs', () => {
    const held = new Held()
    for (let n = 0; n < 300; n++) held.put(`old ${n}`, n)
    held.take('old 0')
    held.trim(3)
    expect(held.keys()).toHaveLength(240)
    expect(held.take('old 0')).toBe(0)
    expect(held.take('old 1')).toBeUndefined()
    for (let n = 0; n < 300; n++) held.put(`new ${n}`, n)
    held.trim(290)
    expect(held.keys()).toHaveLength(290)
  })
})

describe('letters ahead of their weld', () => {
  const part = letteringOf({ text: 'nnn\nn', letter_ids: [1, 2, 3, 9, 4] })
  const recipe = recipeOf([part, letteringOf({ id: 'two' })])
  const evaluation = assembled(recipe, told(true), new Held())
  if (!evaluation) throw new Error('it is whole')
  const changed = (change: Partial<Lettering>): Recipe =>
    recipeOf([{ ...part, ...change }, ...recipe.parts.slice(1)])
  const moved = (id: number, change: object) => changed(withLetters(part, [id], () => change))

  test('nothing is ahead of the recipe it is of', () => {
    expect(aheadOf(evaluation, recipe)?.size).toBe(0)
  })

  test('a letter moved alone goes by itself, in shares of the size', () => {
    const shifts = aheadOf(evaluation, moved(2, { dx: 0.1, dy: -0.2 }))?.get('one')
    expect([...(shifts?.keys() ?? [])]).toEqual([2])
    expect(shifts?.get(2)).toMatchObject({ dx: 3, dy: -6, turn: 0, scale: 1 })
  })

  test('one that carries takes along what follows on its line, and no other line', () => {
    const shifts = aheadOf(evaluation, moved(2, { carry: 0.1 }))?.get('one')
    expect([...(shifts?.keys() ?? [])]).toEqual([2, 3])
  })

  test('room after a letter moves what follows only', () => {
    const shifts = aheadOf(evaluation, moved(1, { after: 0.1 }))?.get('one')
    expect([...(shifts?.keys() ?? [])]).toEqual([2, 3])
  })

  test('a turn is about the middle of the letter', () => {
    const shift = aheadOf(evaluation, moved(3, { turn: 10 }))
      ?.get('one')
      ?.get(3)
    expect(shift).toMatchObject({ turn: 10, middle: { x: 5, y: -10 } })
    const [view] = evaluation.parts
    const third = view?.letters[2]
    if (!view || !third || !shift) throw new Error('they are there')
    expect(letterTransform(view, third, shift)).toContain('rotate(10 5 -10)')
  })

  test.each([
    ['another text', changed({ text: 'nnm\nn' })],
    ['another size', changed({ size: { measure: 'capitals', mm: 26 } })],
    ['another alternate', moved(2, { alternates: { salt: 1 } })],
    ['another mirror', { ...recipe, mirror: true }],
    ['one part less', recipeOf([part])],
    ['a change of a part that is not drawn', recipeOf([part, letteringOf({ id: 'two', letters: {} })])],
  ])('%s is left to the server', (_, now) => {
    expect(aheadOf(evaluation, now)).toBeNull()
  })
})
