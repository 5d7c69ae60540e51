import { afterEach, describe, expect, it } from 'vitest'
import { recipeOf, tern } from '../testing'
import type { Habit } from './habits'
import { joinOf, type Lettering } from './recipe'
import { useShop, withShopDefaults } from './shopDefaults'

const ER: Habit = {
  family: 'pacifico',
  letters: 'er',
  seam: { way: 'bridge', trim: null, flow: null },
  after: 0,
  shape: null,
}

afterEach(() => useShop.setState({ habits: [], scripts: new Set() }))

const inFace = (family: string, more: Partial<Lettering> = {}) =>
  tern({ face: { family, weight: null, axes: {} }, ...more })

function changed(before: Lettering[], now: Lettering) {
  useShop.setState({ habits: [ER], scripts: new Set(['pacifico', 'courgette']) })
  const [part] = withShopDefaults(recipeOf(before), recipeOf([now])).parts
  if (part?.kind !== 'lettering') throw new Error('there is lettering')
  return part
}

describe('what the shop always does', () => {
  it('comes with lettering that is new, begun, or in another face', () => {
    expect(changed([], tern()).habits).toEqual([ER])
    expect(changed([tern({ text: '' })], tern({ text: 'T' })).habits).toEqual([ER])
    expect(changed([inFace('courgette')], tern()).habits).toEqual([ER])
  })

  it('does not come into lettering that is there already', () => {
    expect(changed([tern()], tern({ text: 'Terns' })).habits).toEqual([])
  })

  it('stays out of lettering in which nothing is typed', () => {
    expect(changed([], tern({ text: ' ' })).habits).toEqual([])
  })
})

describe('lettering in a script', () => {
  const joins = (part: Lettering) => joinOf(part.join).how

  it('is joined from the first key', () => {
    expect(joins(changed([tern({ text: '' })], tern({ text: 'T' })))).toBe('auto')
    expect(joins(changed([inFace('anton', { text: '' })], inFace('anton', { text: 'T' })))).toBe('set')
  })

  it('is joined when it gets that face, and not when it loses it', () => {
    expect(joins(changed([inFace('anton')], tern()))).toBe('auto')
    const joined = { ...joinOf(undefined), how: 'auto' } as const
    expect(joins(changed([tern({ join: joined })], inFace('anton', { join: joined })))).toBe('set')
  })

  it('stays as the maker wants it in another script', () => {
    expect(joins(changed([inFace('courgette')], tern()))).toBe('set')
  })

  it('is not joined anew because words are typed', () => {
    expect(joins(changed([tern()], tern({ text: 'Terns' })))).toBe('set')
  })
})
