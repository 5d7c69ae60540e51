import { describe, expect, it } from 'vitest'
import { changeOf } from '../../shared/design/letters'
import type { Lettering } from '../../shared/design/recipe'
import { tern } from '../../shared/testing'
import { addEdit, inShares, type LetterNodes, type ShapeEdit, shapeOf, withShape } from './shapes'
import { asFarAs } from './strokeEnds'

const NODES: LetterNodes = { mark: 'as-drawn', nodes: [], ends: [], per_mm: [0.1, 0, 0, -0.1], next: 0 }

const move = (nodes: number[], dx: number): ShapeEdit => ({
  kind: 'move',
  nodes,
  dx,
  dy: 0,
  time: 0.5,
  new: 0,
})

const edited = (part: Lettering, id: number, edit: ShapeEdit, ofKind = false, nodes = NODES): Lettering => ({
  ...part,
  ...addEdit(part, id, nodes, edit, ofKind),
})

const editsOf = (part: Lettering, id: number) => shapeOf(part, id)?.edits

describe('edits of a letter’s shape', () => {
  it('are one as long as the same points go on moving', () => {
    const once = edited(tern(), 2, move([1, 4], 0.1))
    const goneOn = edited(once, 2, move([1, 4], 0.2))
    expect(editsOf(goneOn, 2)).toEqual([move([1, 4], 0.3)])
    expect(editsOf(edited(goneOn, 2, move([1], 0.2)), 2)).toHaveLength(2)
  })

  it('of another kind are never one: two points put in are two', () => {
    const put = (n: number): ShapeEdit => ({ ...move([n], 0), kind: 'insert', new: n })
    expect(editsOf(edited(edited(tern(), 2, put(3)), 2, put(3)), 2)).toHaveLength(2)
  })

  it('begin anew where the letter is drawn otherwise by now', () => {
    const before = edited(tern(), 2, move([1], 0.1))
    const other = { ...NODES, mark: 'of-another-face' }
    const now = edited(before, 2, move([1], 0.2), false, other)
    expect(shapeOf(now, 2)).toEqual({ of: 'of-another-face', edits: [move([1], 0.2)] })
  })

  it('of every letter of a kind take the place of each one’s own', () => {
    const toot = tern({ text: 'toot' })
    const own = edited(toot, 2, move([1], 0.1))
    const all = edited(own, 3, move([2], 0.5), true)
    expect(changeOf(all, 2).shape).toBeNull()
    expect(editsOf(all, 2)).toEqual(editsOf(all, 3))
    expect(editsOf(all, 1)).toBeUndefined()
    expect({ ...all, ...withShape(all, 2, null, true) }.kinds).toEqual({})
  })

  it('are kept in shares of the letter’s own frame', () => {
    expect(inShares(NODES, 3, 2)).toEqual({ dx: 0.3, dy: -0.2 })
  })
})

it('an end comes as far out as a place, along its own direction only', () => {
  const end = { x: 10, y: 0, dx: 1, dy: 0, nodes: [] } as unknown as Parameters<typeof asFarAs>[0]
  expect(asFarAs(end, { x: 14, y: 9 })).toEqual({ x: 4, y: 0 })
})
