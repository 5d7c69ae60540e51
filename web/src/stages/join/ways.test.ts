import { describe, expect, it } from 'vitest'
import type { FaceOut } from '../../shared/design/recipe'
import { tern } from '../../shared/testing'
import { isJoinedSo, waysFor, wordEnds } from './ways'

const SWASHES = { features: [{ tag: 'fina' }] } as FaceOut

const taken = (name: string, part = tern(), face: FaceOut | undefined = SWASHES) => {
  const way = waysFor(part, face).find((w) => w.name === name)
  if (!way) throw new Error(`${name} is no way`)
  return { ...part, ...way.take(part) }
}

const joinedSo = (part: ReturnType<typeof taken>) =>
  waysFor(part, SWASHES)
    .filter((way) => isJoinedSo(part, way))
    .map(({ name }) => name)

describe('ways to join', () => {
  it('are each what is chosen once they are taken, and no other', () => {
    for (const { name } of waysFor(tern(), SWASHES)) expect(joinedSo(taken(name))).toEqual([name])
  })

  it('take each other’s place', () => {
    const apart = taken('Capital apart')
    expect(joinedSo(taken('With a swash', apart))).toEqual(['With a swash'])
    expect(taken('Evenly', taken('With a swash')).letters).toEqual({})
  })

  it('leave letters that were moved by hand where they are', () => {
    const moved = tern({ letters: { 2: { dx: 0.1 } } as never })
    expect(taken('Tightly', moved).letters).toMatchObject({ 2: { dx: 0.1 } })
  })

  it('are those that make sense', () => {
    const names = (text: string, face?: FaceOut) => waysFor(tern({ text }), face).map(({ name }) => name)
    expect(names('tern')).not.toContain('Capital apart')
    expect(names('Old Tern')).toContain('Capitals apart')
    expect(names('Tern')).not.toContain('With a swash')
  })
})

it('finds where words begin and end', () => {
  expect(wordEnds(tern({ text: 'Old Tern, 2' }))).toEqual({ capitals: [1, 5], lasts: [3, 8] })
})
