import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import { recipeOf, tern } from '../testing'
import { withFilm } from './films'
import { keptMaterials } from './materials'
import { newLettering } from './recipe'
import { beginning, remember, withStocksAsLast } from './rememberedChoices'

describe('a new design', () => {
  const kept = new Map<string, string>()
  beforeEach(() => {
    vi.stubGlobal('localStorage', {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, value: string) => kept.set(key, value),
    })
  })
  afterEach(() => {
    kept.clear()
    vi.unstubAllGlobals()
  })

  test('begins as the first one did where nothing is known', () => {
    expect(beginning()).toBeUndefined()
    kept.set('fulgen-last', '{"version": 1}')
    expect(beginning()).toBeUndefined()
    kept.set('fulgen-last', 'no JSON')
    expect(beginning()).toBeUndefined()
  })

  test('begins with the unit, material, machine and manner of the last one, without its words', () => {
    const words = { ...tern(), film: '#8C2F39', face: { family: 'allura', weight: null, axes: {} } }
    const last = recipeOf([words])
    remember({
      ...last,
      unit: 'in',
      material: { name: 'Card', limits: null },
      cut: { ...last.cut, machine: 'Laser' },
    })
    const begun = beginning()
    expect(begun).toMatchObject({ unit: 'in', material: { name: 'Card' }, cut: { machine: 'Laser' } })
    expect(begun?.parts).toMatchObject([{ text: '', film: '#8C2F39', face: { family: 'allura' } }])
  })

  test('a film that is new begins as the sheet or roll that was last used for its material', () => {
    const roll = { name: 'Mine', material: null, roll: true, width_mm: 610, height_mm: 5000, margin_mm: 8 }
    const last = recipeOf([tern({ film: '#8C2F39' })])
    const stocks = [{ ...roll, film: '#8C2F39', substitute_film: null, mirror: null }]
    remember({ ...last, cut: { ...last.cut, stocks } })
    const measures = { roll: true, width_mm: 610, height_mm: 5000, margin_mm: 8, name: '' }
    expect(beginning()?.cut.stocks).toMatchObject([{ film: '#8C2F39', ...measures }])
    const before = recipeOf([tern()])
    const after = withStocksAsLast(before, recipeOf([tern({ film: '#C8932B' })]))
    expect(after.cut.stocks).toMatchObject([{ film: '#C8932B', ...measures }])
    const card = { ...recipeOf([tern({ film: '#C8932B' })]), material: { name: 'Card', limits: null } }
    expect(withStocksAsLast(before, card)).toBe(card)
    expect(withStocksAsLast(after, after)).toBe(after)
  })

  test('is not begun from a design without words', () => {
    remember(recipeOf([newLettering({ text: ' ' })]))
    expect(beginning()).toBeUndefined()
  })
})

test('a film given to all that is cut from another', () => {
  const letter = { ...tern().letters?.[1], film: '#2B5674' } as NonNullable<
    ReturnType<typeof tern>['letters']
  >[string]
  const words = { ...tern(), film: '#2b5674', letters: { '1': letter } }
  const [part] = withFilm(recipeOf([words]), '#2B5674', '#1F4E6B').parts
  expect(part).toMatchObject({ film: '#1F4E6B', letters: { '1': { film: '#1F4E6B' } } })
})

describe('materials of the shop', () => {
  const limits = { neck_mm: 1, stroke_mm: 1, hole_mm: 1, piece_mm: 1, gap_mm: 1 }
  const felt = { name: 'Felt', joint_mm: 2, limits, mirrored: false, note: '' }
  const known = [
    { material: felt, is_default: false, own: true },
    { material: { ...felt, name: 'Card' }, is_default: true, own: false },
  ]

  test('what the shop has otherwise is kept with the design, what Fulgen knows is not', () => {
    const recipe = recipeOf([tern()])
    expect(keptMaterials({ ...recipe, material: { name: 'Felt', limits: null } }, known, 'Felt')).toEqual([
      felt,
    ])
    const before = { ...recipe, material: { name: 'Card', limits: null }, materials: [felt] }
    expect(keptMaterials(before, known, 'Card')).toEqual([])
  })

  test('one that a film is made of stays', () => {
    const recipe = recipeOf([tern()])
    const stocks = [
      { ...recipe.cut.stocks[0], film: '#2B5674', material: 'Felt' },
    ] as typeof recipe.cut.stocks
    const before = { ...recipe, cut: { ...recipe.cut, stocks }, materials: [felt] }
    expect(keptMaterials(before, known, 'Card')).toEqual([felt])
  })
})
