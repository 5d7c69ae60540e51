import { describe, expect, test } from 'vitest'
import type { Combination, Lettering, Part, Recipe } from '../../shared/design/recipe'
import { AT_ORIGIN } from '../../shared/design/recipe'
import { type Evaluation, onWork, placedWithin } from '../../shared/evaluation/evaluation'
import { recipeOf, tern } from '../../shared/testing'
import { alignedTo, freed, groundsFor, realigned } from './alignment'
import { about, alike, arranged, beside, boxAround, movedBy, snapped, spread, stacked } from './arrange'
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

describe('aligned parts', () => {
  const ground = disc('a')
  const held = (alignment: Part['alignment'], more: object = {}) =>
    disc('b', 30, { place: at(30, 7), alignment, ...more })
  const evaluated = (recipe: Recipe, where: Record<string, Part['place']>): Evaluation => ({
    ...seen(recipe),
    parts: seen({ ...recipe, parts: recipe.parts.map((p) => ({ ...p, place: where[p.id] ?? p.place })) })
      .parts,
  })

  test('to be aligned moves a part only where it is pulled', () => {
    const recipe = recipeOf([ground, held(null)])
    const kept = realigned(recipe, seen(recipe), 'b', { to: 'a', across: 'centre', down: null })
    expect(placeOf(kept, 'b')).toMatchObject({ x: 30, y: 7 })
    const edge = realigned(recipe, seen(recipe), 'b', { to: null, across: 'left', down: 'bottom' })
    expect(placeOf(edge, 'b')).toMatchObject({ x: 20, y: 17 })
    const pulled = alignedTo(recipe, seen(recipe), ['a', 'b'], 'a', { across: 'right' })
    expect(pulled.parts[1]).toMatchObject({ alignment: { to: 'a', across: 'right' }, place: { x: 0, y: 7 } })
  })

  test('a second edge keeps the first, and the ground never goes by what is laid on it', () => {
    const recipe = recipeOf([ground, held({ to: 'a', across: 'left', down: null }, { place: at(0, 7) })])
    const evaluation = evaluated(recipe, { b: at(0, 7) })
    const both = alignedTo(recipe, evaluation, ['b', 'a'], 'a', { down: 'top' })
    expect(both.parts[1]?.alignment).toEqual({ to: 'a', across: 'left', down: 'top' })
    const turned = alignedTo(recipe, evaluation, ['a', 'b'], 'b', { across: 'left' })
    expect(turned.parts.map((p) => p.alignment?.to ?? null)).toEqual(['b', null])
    expect(placeOf(turned, 'b')).toMatchObject({ x: 0, y: 7 })
  })

  test('moved by hand it is as far off, and with its ground it goes by itself', () => {
    const recipe = recipeOf([ground, held({ to: 'a', across: 'centre', down: null }, { place: at(0, 7) })])
    const evaluation = evaluated(recipe, { b: at(0, 7) })
    const alone = arranged(recipe, evaluation, alike(['b'], movedBy(4, 2)))
    expect(placeOf(alone, 'b')).toMatchObject({ x: 4, y: 9 })
    const both = arranged(recipe, evaluation, alike(['a', 'b'], movedBy(4, 2)))
    expect(placeOf(both, 'a')).toMatchObject({ x: 4, y: 2 })
    expect(placeOf(both, 'b')).toMatchObject({ x: 0, y: 9 })
    const turned = arranged(recipe, evaluation, alike(['b'], about(0, 7, 1, 90)))
    expect(placeOf(turned, 'b')).toMatchObject({ x: 0, turn: 90 })
  })

  test('lying freely again it stays where it came out', () => {
    const recipe = recipeOf([ground, held({ to: 'a', across: 'centre', down: null }, { place: at(3, 7) })])
    const evaluation = evaluated(recipe, { a: at(50), b: at(53, 7) })
    expect(
      placeOf(
        freed(recipe, evaluation, () => true),
        'b',
      ),
    ).toMatchObject({ x: 53, y: 7 })
  })

  test('only parts of its level that it does not place are there to be chosen', () => {
    const recipe = recipeOf([ground, held({ to: 'a', across: 'centre', down: null }), disc('c', 60)])
    expect(groundsFor(recipe, 'a').map((p) => p.id)).toEqual(['c'])
    expect(groundsFor(recipe, 'b').map((p) => p.id)).toEqual(['a', 'c'])
  })

  test('a copy goes by the copy of what it was aligned to', () => {
    const recipe = recipeOf([ground, held({ to: 'a', across: 'centre', down: null })])
    const both = copied(recipe, ['a', 'b'], { x: 40, y: 0 }).recipe.parts
    expect(both[3]).toMatchObject({ alignment: { to: both[2]?.id }, place: { x: 30, y: 7 } })
    const alone = copied(recipe, ['b'], { x: 40, y: 0 }).recipe.parts
    expect(alone[2]).toMatchObject({ alignment: { to: 'a' }, place: { x: 70, y: 7 } })
  })
})

describe('where a copy goes', () => {
  const box = { x: 0, y: 0, width: 100, height: 20 }
  test('a wide one goes below, another to the right, else the other way, else beyond everything', () => {
    expect(beside(box, [])).toEqual({ x: 0, y: 36 })
    expect(beside({ ...box, height: 90 }, [])).toEqual({ x: 108, y: 0 })
    expect(beside(box, [{ x: 0, y: 40, width: 20, height: 20 }])).toEqual({ x: 108, y: 0 })
    const crowd = [
      { x: 150, y: 0, width: 20, height: 20 },
      { x: 0, y: 40, width: 20, height: 20 },
    ]
    expect(beside(box, crowd)).toEqual({ x: 176, y: 0 })
  })
  test('what it lies on is not in its way', () => {
    expect(beside(box, [{ x: -10, y: -10, width: 400, height: 400 }])).toEqual({ x: 0, y: 36 })
  })
})

describe('parts made larger', () => {
  test('a shape is stretched about what stays', () => {
    const next = grown(three, seen(three), new Set(['b']), { across: 2, down: 1, x: 20, y: 0 })
    expect(next.parts[1]).toMatchObject({ width_mm: 40, height_mm: 20, place: { x: 40, y: 0 } })
  })

  test('lettering is stretched as its letters are, and its size is as it is measured', () => {
    const word = (more: Partial<Lettering>) =>
      recipeOf([tern({ size: { measure: 'capitals', mm: 20 }, ...more })])
    const wider = (recipe: Recipe, by = { across: 1.5, down: 1 }) =>
      grown(recipe, seen(recipe), new Set(['one']), { ...by, x: 0, y: 0 }).parts[0]
    expect(wider(word({}))).toMatchObject({ size: { mm: 20 }, stretch: 1.5, place: { scale: 1 } })
    expect(wider(word({}), { across: 1, down: 1.25 })).toMatchObject({ size: { mm: 25 }, stretch: 0.8 })
    const across = word({ size: { measure: 'width', mm: 60 } })
    expect(wider(across)).toMatchObject({ size: { measure: 'width', mm: 90 }, stretch: 1.5 })
    expect(wider(across, { across: 1, down: 1.25 })).toMatchObject({ size: { mm: 60 }, stretch: 0.8 })
    expect(wider(word({ stretch: 1.8 }))).toMatchObject({ stretch: 2, size: { mm: 20 } })
    const around = word({ course: { kind: 'circle' } as Lettering['course'] & object })
    expect(wider(around)).toMatchObject({ size: { mm: 30 }, stretch: 1 })
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
