import { afterEach, describe, expect, it } from 'vitest'
import { recipeOf, tern } from '../testing'
import { type Habit, habitAt, habitOf, useShopHabits, withSeamAsHabit, withShopHabits } from './habits'

const BRIDGED: Habit['seam'] = { way: 'bridge', trim: null, flow: null }
const ER: Habit = { family: 'pacifico', letters: 'er', seam: BRIDGED, after: 0, shape: null }

afterEach(() => useShopHabits.setState({ habits: [] }))

const habitsAfter = (before: ReturnType<typeof tern>[], after: ReturnType<typeof tern>[]) => {
  useShopHabits.setState({ habits: [ER] })
  const [part] = withShopHabits(recipeOf(before), recipeOf(after)).parts
  return part?.kind === 'lettering' ? part.habits : undefined
}

describe('what the shop always does', () => {
  it('comes with lettering that is new, begun, or in another face', () => {
    expect(habitsAfter([], [tern()])).toEqual([ER])
    expect(habitsAfter([tern({ text: '' })], [tern({ text: 'T' })])).toEqual([ER])
    const courgette = tern({ face: { family: 'courgette', weight: null, axes: {} } })
    expect(habitsAfter([courgette], [tern()])).toEqual([ER])
  })

  it('does not come into lettering that is there already', () => {
    expect(habitsAfter([tern()], [tern({ text: 'Terns' })])).toEqual([])
  })

  it('stays out of lettering in which nothing is typed', () => {
    expect(habitsAfter([], [tern({ text: ' ' })])).toEqual([])
  })
})

describe('a seam', () => {
  it('is joined by a habit of its two letters, unless it is decided by itself', () => {
    expect(habitAt(tern({ habits: [ER] }), 2)).toBe(ER)
    expect(habitAt(tern({ habits: [ER] }), 1)).toBeUndefined()
    expect(habitAt(tern({ habits: [{ ...ER, family: 'charm' }] }), 2)).toBeUndefined()
    const decided = { 2: { seam: { way: 'apart', trim: null, flow: null } } }
    expect(habitAt(tern({ habits: [ER], letters: decided as never }), 2)).toBeUndefined()
  })

  it('becomes a habit with what was decided and how far its letters were moved', () => {
    const part = tern({ letters: { 2: { seam: BRIDGED, after: 0.1 }, 3: { carry: -0.04 } } as never })
    const habit = habitOf(part, 2)
    expect(habit).toMatchObject({ family: 'pacifico', letters: 'er', seam: BRIDGED })
    expect(habit?.after).toBeCloseTo(0.06)
    if (!habit) return
    expect(withSeamAsHabit(part, 2, habit)).toMatchObject({ letters: {}, habits: [habit] })
  })

  it('is none where nothing was done', () => expect(habitOf(tern(), 2)).toBeNull())
})
