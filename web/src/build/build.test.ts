import { describe, expect, test } from 'vitest'
import type { Combination, Part, Recipe } from '../design/recipe'
import { AT_ORIGIN } from '../design/recipe'
import { type Evaluation, onWork, placedWithin } from '../evaluation/evaluation'
import { recipeOf, tern } from '../testing'
import { about, aligned, alike, arranged, boxAround, movedBy, snapped, spread, stacked } from './arrange'
import {
  bound,
  combined,
  copied,
  freshId,
  newPart,
  onLevel,
  parentOf,
  released,
  reordered,
  topOf,
  travelling,
  withNew,
  without,
} from './parts'
import { evenly, grown } from './resize'

const at = (x: number, y = 0) => ({ ...AT_ORIGIN, x, y })
const disc = (id: string, x = 0, more: object = {}): Part => ({
  ...(newPart(recipeOf([]), 'shape', { form: 'disc', width_mm: 20, height_mm: 20 }, at(x)) as Part & {
    kind: 'shape'
  }),
  id,
  ...more,
})
const three = recipeOf([disc('a'), disc('b', 30), disc('c', 60)])
const ids = (recipe: Recipe) => recipe.parts.map((p) => p.id)
const members = (recipe: Recipe, id: string) =>
  (recipe.parts.find((p) => p.id === id) as Combination | undefined)?.members
const placeOf = (recipe: Recipe, id: string) => recipe.parts.find((p) => p.id === id)?.place

/** An evaluation that knows only where parts lie. */
function seen(recipe: Recipe): Evaluation {
  const placed = (id: string): Part['place'] => {
    const part = recipe.parts.find((p) => p.id === id)
    const parent = parentOf(recipe, id)
    if (!part) throw new Error('it is there')
    return parent ? placedWithin(part.place, placed(parent.id)) : part.place
  }
  const parts = recipe.parts.map((part) => {
    const place = placed(part.id)
    const box = { x: place.x - 10, y: place.y - 10, width: 20, height: 20 }
    return { id: part.id, within: parentOf(recipe, part.id)?.id ?? null, shown: true, place, box }
  })
  return { recipe, parts } as unknown as Evaluation
}

describe('parts added and taken out', () => {
  test('ids are never used twice', () => {
    expect(freshId(recipeOf([disc('shape-1'), disc('shape-3')]), 'shape')).toBe('shape-2')
    expect(freshId(recipeOf([]), 'shape', ['shape-1'])).toBe('shape-2')
  })

  test('a backing goes under its part, and into the combination that its part is in', () => {
    const backing = newPart(three, 'backing', { of: 'b' })
    expect(ids(withNew(three, backing))).toEqual(['a', 'backing-1', 'b', 'c'])
    const whole = combined(three, ['a', 'b'], 'weld').recipe
    expect(members(withNew(whole, backing), 'combination-1')).toEqual(['a', 'b', 'backing-1'])
  })

  test('with a part go its backing, its combination when it was the last in it, and what held to it', () => {
    const anchor = { part: 'a', x: 0, y: 0, letter: null, contour: null, of: '' }
    const backed = withNew(three, newPart(three, 'backing', { of: 'a' }))
    const bar = { start: anchor, end: { ...anchor, part: 'b' }, width_mm: 1, bulge: 0 }
    const left = without({ ...backed, bars: [bar] }, ['a'])
    expect(ids(left)).toEqual(['b', 'c'])
    expect(left.bars).toEqual([])
    const alone = combined(three, ['a'], 'weld').recipe
    expect(ids(without(alone, ['a']))).toEqual(['b', 'c'])
  })

  test('a design is never left without a part', () => {
    expect(without(three, ['a', 'b', 'c']).parts).toMatchObject([{ kind: 'lettering', text: '' }])
  })

  test('a copy of a combination is one of its own', () => {
    const whole = combined(three, ['a', 'b'], 'cut').recipe
    const { recipe, copies } = copied(whole, ['combination-1'])
    expect(copies).toEqual(['combination-2'])
    const inner = members(recipe, 'combination-2') ?? []
    expect(inner).toHaveLength(2)
    expect(inner).not.toContain('a')
    expect(members(recipe, 'combination-1')).toEqual(['a', 'b'])
  })
})

describe('parts put together', () => {
  test('the first chosen is the ground, and members keep their places', () => {
    const { recipe, id } = combined(three, ['c', 'a'], 'cut')
    expect(members(recipe, id)).toEqual(['c', 'a'])
    expect(placeOf(recipe, 'a')).toEqual(placeOf(three, 'a'))
    expect(onLevel(recipe, null).map((p) => p.id)).toEqual(['b', id])
    expect(topOf(recipe, 'a')).toBe(id)
  })

  test('within a combination it is one of its members', () => {
    const outer = combined(three, ['a', 'b', 'c'], 'weld')
    const inner = combined(outer.recipe, ['b', 'c'], 'cut')
    expect(members(inner.recipe, outer.id)).toEqual(['a', inner.id])
  })

  test('released, parts lie where they were', () => {
    const { recipe, id } = combined(three, ['a', 'b'], 'weld')
    const moved = arranged(recipe, seen(recipe), alike([id], about(5, 5, 2, 90)))
    const there = seen(moved).parts.find((p) => p.id === 'b')?.place
    const apart = released(moved, id)
    expect(apart.members).toEqual(['a', 'b'])
    const now = placeOf(apart.recipe, 'b')
    expect(now?.x).toBeCloseTo(there?.x ?? 0)
    expect(now?.y).toBeCloseTo(there?.y ?? 0)
    expect(now?.scale).toBeCloseTo(2)
  })

  test('order is that of a level', () => {
    expect(ids(reordered(three, 'a', 1))).toEqual(['b', 'a', 'c'])
    expect(ids(reordered(three, 'a', -1))).toEqual(['a', 'b', 'c'])
    const { recipe, id } = combined(three, ['a', 'b'], 'cut')
    expect(members(reordered(recipe, 'b', -1), id)).toEqual(['b', 'a'])
  })

  test('parts that travel together are moved together, and stay parts', () => {
    const crew = bound(three, ['a', 'c'], true)
    expect(travelling(crew, ['a'])).toEqual(['a', 'c'])
    expect(travelling(bound(crew, ['a', 'c'], false), ['a'])).toEqual(['a'])
  })
})

describe('where parts lie', () => {
  const boxed = seen(three).parts.map(({ id, box }) => ({
    id,
    box: box ?? { x: 0, y: 0, width: 0, height: 0 },
  }))

  test('aligned with the first that was chosen', () => {
    expect([...aligned(boxed, 'left')].map(([id, p]) => [id, p.x])).toEqual([
      ['b', -30],
      ['c', -60],
    ])
  })

  test('spread between the outermost two', () => {
    const uneven = boxed.map((b, n) => (n === 1 ? { ...b, box: { ...b.box, x: 3 } } : b))
    expect(spread(uneven, 'across', 'middles').get('b')?.x).toBeCloseTo(17)
    expect(spread(uneven, 'across', 'gaps').get('b')?.x).toBeCloseTo(17)
    expect(spread(boxed.slice(0, 2), 'across', 'gaps').size).toBe(0)
  })

  test('stacked one under the other, staggered', () => {
    const changes = stacked(boxed, 5, 2)
    expect(changes.get('b')).toMatchObject({ x: -28, y: 25 })
    expect(changes.get('c')).toMatchObject({ x: -56, y: 50 })
  })

  test('a member is moved by what was seen on the work, however its combination lies', () => {
    const { recipe, id } = combined(three, ['a', 'b'], 'weld')
    const turned = arranged(recipe, seen(recipe), alike([id], about(0, 0, 2, 90)))
    const before = seen(turned).parts.find((p) => p.id === 'b')?.place
    const moved = arranged(turned, seen(turned), alike(['b'], movedBy(7, -3)))
    const after = seen(moved).parts.find((p) => p.id === 'b')?.place
    expect((after?.x ?? 0) - (before?.x ?? 0)).toBeCloseTo(7)
    expect((after?.y ?? 0) - (before?.y ?? 0)).toBeCloseTo(-3)
  })

  test('a locked part stays', () => {
    const locked = recipeOf([disc('a', 0, { locked: true })])
    expect(arranged(locked, seen(locked), alike(['a'], movedBy(5, 5)))).toEqual(locked)
  })

  test('a turn about a place keeps that place', () => {
    const change = about(12, 7, 3, 40, true)
    const there = onWork(change, { x: 12, y: 7 })
    expect(there.x).toBeCloseTo(12)
    expect(there.y).toBeCloseTo(7)
  })

  test('snaps to the nearest line within reach', () => {
    expect(snapped([10, 20], [20.4, 12], 1)).toEqual({ by: expect.closeTo(0.4), at: 20.4 })
    expect(snapped([10], [14], 1)).toBeNull()
  })

  test('no parts have no box', () => {
    expect(boxAround([null, undefined])).toBeNull()
  })
})

describe('parts made larger', () => {
  test('a shape is stretched about what stays', () => {
    const next = grown(three, seen(three), new Set(['b']), { across: 2, down: 1, x: 20, y: 0 })
    expect(next.parts[1]).toMatchObject({ width_mm: 40, height_mm: 20, place: { x: 40, y: 0 } })
  })

  test('lettering grows evenly by its own size', () => {
    const recipe = recipeOf([tern({ size: { measure: 'capitals', mm: 20 } })])
    const next = grown(recipe, seen(recipe), new Set(['one']), { across: 1.5, down: 1, x: 0, y: 0 })
    expect(next.parts[0]).toMatchObject({ size: { measure: 'capitals', mm: 30 }, place: { scale: 1 } })
  })

  test('a combination grows as one thing', () => {
    const { recipe, id } = combined(three, ['a', 'b'], 'weld')
    const next = grown(recipe, seen(recipe), new Set([id]), { across: 2, down: 2, x: 0, y: 0 })
    expect(placeOf(next, id)).toMatchObject({ scale: 2 })
  })

  test('what changes more decides where only one factor is possible', () => {
    expect(evenly({ across: 0.5, down: 1.2, x: 0, y: 0 })).toBe(0.5)
  })
})
