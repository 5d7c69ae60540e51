import { describe, expect, it } from 'vitest'
import { tern } from '../testing'
import { type Habit, habitAt, habitOf, withSeamAsHabit } from './habits'

const BRIDGED: Habit['seam'] = { way: 'bridge', trim: null, flow: null }
const ER: Habit = { family: 'pacifico', letters: 'er', seam: BRIDGED, after: 0, shape: null }

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

  it('goes on being joined as it always is when only its letters are moved', () => {
    const part = tern({ habits: [{ ...ER, after: 0.05 }], letters: { 3: { carry: 0.02 } } as never })
    expect(habitOf(part, 2)).toMatchObject({ seam: BRIDGED })
    expect(habitOf(part, 2)?.after).toBeCloseTo(0.07)
  })

  it('is none where nothing was done', () => expect(habitOf(tern(), 2)).toBeNull())
})
