import { describe, expect, it } from 'vitest'
import { letteringOf } from '../../shared/design/recipe'
import { withAllJoined, withPiecesKnown } from '../../shared/ready/gate'
import {
  asMade,
  type MendedPlace,
  readied,
  withKindLeft,
  withPlaceLeft,
  withPlaceMended,
} from '../../shared/ready/ready'
import { recipeOf, tern } from '../../shared/testing'
import { alike, type Finding, said } from './findings'

const found = (kind: string, more: Partial<Finding> = {}) =>
  ({ kind, what: `A ${kind}.`, accepted: false, blocks: true, ...more }) as Finding

const PLACE = {
  what: 'Thin stroke in T: 0.42 mm',
  box: { x: 0, y: 0, width: 1, height: 1 },
  size_mm: 25,
  at: { part: 'one', x: 0.1, y: -0.2, letter: 1, contour: null, of: 'T' },
} as MendedPlace

describe('findings that are alike', () => {
  it('are one row, in the order of the first of each', () => {
    const rows = alike([found('hairline'), found('neck'), found('hairline')])
    expect(rows.map((row) => row.findings.length)).toEqual([2, 1])
    expect(rows.map(said)).toEqual(['2 strokes are thin', 'A neck.'])
  })

  it('are other ones once they are accepted', () => {
    const rows = alike([found('hairline'), found('hairline', { accepted: true })])
    expect(rows.map((row) => row.accepted)).toEqual([false, true])
  })
})

describe('a design made ready', () => {
  const plain = recipeOf([tern()])

  it('is a rule that is taken back whole', () => {
    const ready = readied(plain)
    expect(ready.ready).toEqual({ kinds_left: [], places_left: [] })
    expect(readied(withKindLeft(ready, 'hole', true)).ready?.kinds_left).toEqual(['hole'])
    expect(asMade(ready)).toEqual(plain)
  })

  it('leaves a kind once, and mends it again', () => {
    const left = withKindLeft(withKindLeft(readied(plain), 'gap', true), 'gap', true)
    expect(left.ready?.kinds_left).toEqual(['gap'])
    expect(withKindLeft(left, 'gap', false)).toEqual(readied(plain))
  })

  it('leaves a place with the letter it is on, whose id stays', () => {
    const left = withPlaceLeft(readied(plain), 'stroke', PLACE)
    expect(left.ready?.places_left).toEqual([{ kind: 'stroke', at: PLACE.at }])
    expect(letteringOf(left, 'one').letter_ids).toHaveLength(4)
    expect(withPlaceMended(left, 0).ready).toEqual(readied(plain).ready)
  })
})

describe('at the gate', () => {
  it('all lettering is joined that is not', () => {
    const two = recipeOf([tern(), tern({ id: 'two', join: { how: 'auto', neck_mm: 2 } as never })])
    const joined = withAllJoined(two)
    expect(letteringOf(joined, 'one').join?.how).toBe('auto')
    expect(letteringOf(joined, 'two')).toBe(letteringOf(two, 'two'))
  })

  it('it can be known that words come off in pieces', () => {
    expect(withPiecesKnown(recipeOf([tern()])).cut.pieces_accepted).toBe(true)
  })
})
