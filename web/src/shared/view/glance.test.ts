import { describe, expect, it } from 'vitest'
import { changeOf, withLetters } from '../design/letters'
import { tern } from '../testing'
import { asSet, withWay } from './glance'

describe('letters as their face sets them', () => {
  const joined = tern({ join: { how: 'auto', tie: true } as never })

  it('are neither joined nor moved by hand', () => {
    const moved = {
      ...joined,
      ...withLetters(joined, [2], () => ({ dx: 0.1, after: 0.2, seam: { way: 'flow' } as never })),
    }
    const set = asSet(moved)
    expect([set.join?.how, set.join?.tie, set.letters]).toEqual(['set', false, {}])
  })

  it('keep what was done to their shapes', () => {
    const turned = { ...joined, ...withLetters(joined, [2], () => ({ dx: 0.1, turn: 8 })) }
    expect(changeOf(asSet(turned), 2)).toMatchObject({ dx: 0, turn: 8 })
  })
})

it('a way is looked at in one seam only, and the rest of it stays', () => {
  const smoothed = { ...tern(), ...withLetters(tern(), [1], () => ({ seam: { smooth_mm: 0.5 } as never })) }
  const seen = withWay(smoothed, 1, 'bar' as never)
  expect(changeOf(seen, 1).seam).toMatchObject({ way: 'bar', smooth_mm: 0.5 })
  expect(seen.letters?.[2]).toBeUndefined()
})
