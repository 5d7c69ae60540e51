import { describe, expect, test } from 'vitest'
import { AT_ORIGIN, type Frame, findPart, type Lettering, type Part } from '../../shared/design/recipe'
import type { Evaluation } from '../../shared/evaluation/evaluation'
import { readied, withKindLeft } from '../../shared/ready/ready'
import { recipeOf, tern } from '../../shared/testing'
import { alike, arranged, movedBy } from './arrange'
import { alone, asFitted, framed, madeFrame, namesFor, withKept, withName } from './frames'
import { copied, insideOf, newPart, onLevel, parentOf, released, without } from './parts'

const two = recipeOf([tern({ id: 'one', text: 'Tern' }), tern({ id: 'two', text: 'Thistle' })])
const ring = (id: string): Part => ({
  ...(newPart(recipeOf([]), 'shape', { form: 'ring', width_mm: 60, height_mm: 60 }) as Part & {
    kind: 'shape'
  }),
  id,
})
const frameOf = (recipe: typeof two, id: string) => findPart(recipe, id) as Frame
const wordOf = (recipe: typeof two, id: string) => findPart(recipe, id) as Lettering
const box = { x: -30, y: -30, width: 60, height: 60 }

describe('a name in a frame', () => {
  test('is what was chosen, else the first that has words', () => {
    expect(namesFor(two, ['two'], 1).map((p) => p.id)).toEqual(['two'])
    expect(
      namesFor(recipeOf([tern({ id: 'blank', text: ' ' }), ...two.parts]), [], 3).map((p) => p.id),
    ).toEqual(['one'])
  })

  test('is joined as one, dots and all, and lies in the frame', () => {
    const { recipe, id } = framed(two, namesFor(two, ['one'], 1), { form: 'oval plate' })
    expect(wordOf(recipe, 'one').join).toMatchObject({ how: 'auto', marks: 'lower', tie: true })
    expect(parentOf(recipe, 'one')?.id).toBe(id)
    expect(onLevel(recipe, null).map((p) => p.id)).toEqual(['two', id])
  })

  test('is a new one where there is none', () => {
    const { recipe, id } = framed(recipeOf([]), [], {})
    expect(insideOf(findPart(recipe, id))).toHaveLength(1)
  })

  test('can be joined by another, set like it', () => {
    const first = framed(two, namesFor(two, ['one'], 1), { form: 'crew board' })
    const { recipe, id } = withName(first.recipe, frameOf(first.recipe, first.id))
    expect(frameOf(recipe, first.id).members).toEqual(['one', id])
    expect(wordOf(recipe, id)).toMatchObject({ text: '', face: wordOf(recipe, 'one').face })
  })
})

describe('a frame among parts', () => {
  const { recipe, id } = framed(two, namesFor(two, ['one'], 1), {})

  test('goes with its names, and its names go alone', () => {
    expect(without(recipe, [id]).parts.map((p) => p.id)).toEqual(['two'])
    const left = without(recipe, ['one'])
    expect(frameOf(left, id).members).toEqual([])
  })

  test('keeps its names where it fits them', () => {
    const evaluation = { parts: [{ id: 'one', place: AT_ORIGIN }] } as unknown as Evaluation
    const moved = arranged(recipe, evaluation, alike(['one'], movedBy(5, 5)))
    expect(wordOf(moved, 'one').place).toEqual(wordOf(recipe, 'one').place)
  })

  test('is copied with its names', () => {
    const { recipe: more, copies } = copied(recipe, [id])
    expect(frameOf(more, copies[0] ?? '').members).not.toEqual(['one'])
    expect(parentOf(more, frameOf(more, copies[0] ?? '').members[0] ?? '')?.id).toBe(copies[0])
  })

  test('is taken away, and the name stays as large as it was fitted', () => {
    const place = { ...AT_ORIGIN, x: 12, y: 5 }
    const evaluation = {
      parts: [
        { id, place: AT_ORIGIN, made: { bands: [{ name: 'one', stretch: 1.1 }] } },
        { id: 'one', place, made: { capital_height_mm: 18 } },
      ],
    } as unknown as Evaluation
    const settled = asFitted(recipe, evaluation, frameOf(recipe, id))
    const { recipe: free } = released(settled, id)
    expect(wordOf(free, 'one')).toMatchObject({
      size: { measure: 'capitals', mm: 18 },
      stretch: 1.1,
      place: { x: 12, y: 5 },
    })
    expect(findPart(free, id)).toBeUndefined()
  })
})

describe('artwork made a frame', () => {
  const start = recipeOf([ring('ring'), tern({ id: 'one' })])
  const made = madeFrame(start, ring('ring'), box, namesFor(start, [], 1))

  test('has a place for a name in its middle', () => {
    const frame = frameOf(made.recipe, made.id)
    expect(frame.ground).toBe('ring')
    expect(frame.bands[0]).toMatchObject({ x: 0, y: 0, manner: 'across' })
    expect(insideOf(frame)).toEqual(['ring', 'one'])
  })

  test('is kept without its names, and put on another design with those there', () => {
    const kept = alone(made.recipe, frameOf(made.recipe, made.id))
    expect(kept.parts.map((p) => p.kind)).toEqual(['shape', 'frame'])
    const { recipe, id } = withKept(two, kept, namesFor(two, ['two'], 1), 'Porthole')
    const frame = frameOf(recipe, id)
    expect(frame).toMatchObject({ name: 'Porthole', members: ['two'] })
    expect(findPart(recipe, frame.ground ?? '')?.kind).toBe('shape')
  })

  test('is nothing without what it is made of', () => {
    expect(without(made.recipe, ['ring']).parts.map((p) => p.id)).toEqual(['one'])
  })
})

test('words along a line that goes are straight again', () => {
  const along = tern({ id: 'one' })
  const recipe = recipeOf([
    ring('ring'),
    { ...along, course: { kind: 'line', of: 'ring' } as NonNullable<Lettering['course']> },
  ])
  expect(wordOf(without(recipe, ['ring']), 'one').course).toBeNull()
})

test('a frame that is put on the work makes it ready from the start, but for what is left as it is', () => {
  const plain = recipeOf([tern()])
  expect(framed(plain, [tern()], {}).recipe.ready).toEqual(readied(plain).ready)
  const left = withKindLeft(plain, 'hole', true)
  expect(framed(left, [tern()], {}).recipe.ready).toEqual(left.ready)
})
