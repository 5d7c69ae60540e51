import { describe, expect, test } from 'vitest'
import type { Schemas } from '../api/client'
import { withLetters } from '../design/letters'
import type { Lettering, Recipe } from '../design/recipe'
import { recipeOf, tern } from '../testing'
import { assembled, Held, letterTransform, onWork, outlineOf, placedWithin, undone } from './evaluation'
import { optimisticMovesOf } from './optimisticMoves'

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
  turn: 0,
  box: { x: (id - 1) * 10, y: -20, width: 10, height: 20 },
  marks: 0,
  own_film: true,
})
const made = {
  key: 'made',
  letters: [letter(1), letter(2), letter(3), letter(4, 1)],
  extras: [],
  ties: [],
  baselines_mm: [0],
  capital_height_mm: 20,
  size_mm: 30,
  width_mm: 90,
  height_mm: 40,
  lost_shapes: [],
  waiting_shapes: [],
  bodies: [],
  lines: [],
  handles: [],
  regions: [],
  bands: [],
  curved: false,
}
const place = { x: 0, y: 0, turn: 0, scale: 1, flip: false }

function told(whole: boolean): Schemas['EvaluationOut'] {
  return {
    box,
    films: [{ colour: '#2B5674', clusters: ['cluster'] }],
    parts: [
      {
        id: 'one',
        within: null,
        shown: true,
        box,
        built: 'made',
        marks: 'marks',
        film: '#2B5674',
        use: 'cut',
        place,
        problem: null,
      },
    ],
    bridges: [],
    cut_length_mm: 100,
    nodes: 3,
    loose_marks: 0,
    unmet: [],
    display_name: 'Tern',
    clusters: whole ? [{ key: 'cluster', pieces: [piece] as Schemas['PieceOut'][] }] : [],
    built: whole ? [made as Schemas['BuiltPartOut']] : [],
    marks: whole ? [{ key: 'marks', marks: [{ d: 'M0 0L1 1', use: 'score' }] }] : [],
    forms: whole ? [{ key: 'form', d: 'M0 0Z' }] : [],
  }
}

describe('an answer by key', () => {
  const recipe = recipeOf([tern()])

  test('what is known already is not needed again', () => {
    const held = new Held()
    const first = assembled(recipe, told(true), held)
    expect(held.keys().sort()).toEqual(['cluster', 'form', 'made', 'marks'])
    expect(first?.parts[0]?.marks.map((mark) => mark.use)).toEqual(['score'])
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
  const part = tern({ text: 'nnn\nn', letter_ids: [1, 2, 3, 9, 4] })
  const recipe = recipeOf([part, tern({ id: 'two' })])
  const evaluation = assembled(recipe, told(true), new Held())
  if (!evaluation) throw new Error('it is whole')
  const changed = (change: Partial<Lettering>): Recipe =>
    recipeOf([{ ...part, ...change }, ...recipe.parts.slice(1)])
  const moved = (id: number, change: object) => changed(withLetters(part, [id], () => change))

  test('nothing is ahead of the recipe it is of', () => {
    expect(optimisticMovesOf(evaluation, recipe)?.size).toBe(0)
  })

  test('a letter moved alone goes by itself, in shares of the size', () => {
    const shifts = optimisticMovesOf(evaluation, moved(2, { dx: 0.1, dy: -0.2 }))?.get('one')?.shifts
    expect([...(shifts?.keys() ?? [])]).toEqual([2])
    expect(shifts?.get(2)).toMatchObject({ dx: 3, dy: -6, turn: 0, scale: 1 })
  })

  test('one that carries takes along what follows on its line, and no other line', () => {
    const shifts = optimisticMovesOf(evaluation, moved(2, { carry: 0.1 }))?.get('one')?.shifts
    expect([...(shifts?.keys() ?? [])]).toEqual([2, 3])
  })

  test('room after a letter moves what follows only', () => {
    const shifts = optimisticMovesOf(evaluation, moved(1, { after: 0.1 }))?.get('one')?.shifts
    expect([...(shifts?.keys() ?? [])]).toEqual([2, 3])
  })

  test('a turn is about the middle of the letter', () => {
    const shift = optimisticMovesOf(evaluation, moved(3, { turn: 10 }))
      ?.get('one')
      ?.shifts.get(3)
    expect(shift).toMatchObject({ turn: 10, middle: { x: 5, y: -10 } })
    const [view] = evaluation.parts
    const third = view?.letters[2]
    if (!view || !third || !shift) throw new Error('they are there')
    expect(letterTransform(view, third, shift)).toContain('rotate(10 5 -10)')
  })

  test('a part that lies elsewhere goes there, turned and scaled as its place says', () => {
    const place = { x: 10, y: 5, turn: 90, scale: 2, flip: false }
    expect(optimisticMovesOf(evaluation, changed({ place }))?.get('one')?.place).toEqual(place)
  })

  test('a placement undone brings everything back', () => {
    const place = { x: 12, y: -7, turn: 33, scale: 1.7, flip: true }
    const at = onWork(undone(place), onWork(place, { x: 3, y: 4 }))
    expect(at.x).toBeCloseTo(3)
    expect(at.y).toBeCloseTo(4)
    const inner = { x: 5, y: 6, turn: 20, scale: 0.5, flip: false }
    const there = onWork(placedWithin(inner, place), { x: 1, y: 2 })
    expect(there.x).toBeCloseTo(onWork(place, onWork(inner, { x: 1, y: 2 })).x)
    expect(there.y).toBeCloseTo(onWork(place, onWork(inner, { x: 1, y: 2 })).y)
  })

  test.each([
    ['another text', changed({ text: 'nnm\nn' })],
    ['another size', changed({ size: { measure: 'capitals', mm: 26 } })],
    ['another alternate', moved(2, { alternates: { salt: 1 } })],
    ['another mirror', { ...recipe, mirror: true }],
    ['one part less', recipeOf([part])],
    ['a change of a part that is not drawn', recipeOf([part, tern({ id: 'two', letters: {} })])],
  ])('%s is left to the server', (_, now) => {
    expect(optimisticMovesOf(evaluation, now)).toBeNull()
  })
})
