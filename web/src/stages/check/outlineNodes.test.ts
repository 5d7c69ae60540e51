import { describe, expect, it } from 'vitest'
import { draggedPath, nearestNode, type OutlineNode } from './outlineNodes'

const at = (x: number, y: number, more: Partial<OutlineNode> = {}): OutlineNode => ({
  x,
  y,
  before: null,
  after: null,
  smooth: false,
  ...more,
})
const same = (spot: { x: number; y: number }) => spot

const SQUARE = [at(0, 0), at(10, 0), at(10, 10), at(0, 10)]
const SMOOTH = at(10, 0, { before: { x: 7, y: 0 }, after: { x: 14, y: 0 }, smooth: true })

describe('a point of the outline', () => {
  it('is taken by the pointer that is nearest to it and near enough', () => {
    expect(nearestNode([SQUARE], { x: 9, y: 1 }, 2)).toEqual({ contour: 0, place: 1 })
    expect(nearestNode([SQUARE, [at(9, 0.5)]], { x: 9, y: 1 }, 2)).toEqual({ contour: 1, place: 0 })
    expect(nearestNode([SQUARE], { x: 5, y: 5 }, 2)).toBeNull()
  })

  it('takes along the two sides that meet in it, around the end of the contour too', () => {
    const first = { contour: 0, place: 0 }
    const path = draggedPath([SQUARE], first, 'move', { x: -1, y: -2 }, same)
    expect(path).toBe('M0.0 10.0L-1.0 -2.0L10.0 0.0')
  })

  it('takes along its handles', () => {
    const path = draggedPath(
      [[at(0, 0), SMOOTH, at(20, 0)]],
      { contour: 0, place: 1 },
      'move',
      { x: 0, y: 1 },
      same,
    )
    expect(path).toBe('M0.0 0.0C0.0 0.0 7.0 1.0 10.0 1.0C14.0 1.0 20.0 0.0 20.0 0.0')
  })

  it('turns the other handle along where the outline flows, as long as it was', () => {
    const contours = [[at(0, 0), SMOOTH, at(20, 0)]]
    const path = draggedPath(contours, { contour: 0, place: 1 }, 'before', { x: 3, y: 3 }, same)
    // The handle before goes from (7, 0) to (10, 3), straight below the point; the other to (10, -4), above it.
    expect(path).toBe('M0.0 0.0C0.0 0.0 10.0 3.0 10.0 0.0C10.0 -4.0 20.0 0.0 20.0 0.0')
  })

  it('keeps its other handle where the outline has a corner', () => {
    const contours = [[at(0, 0), { ...SMOOTH, smooth: false }, at(20, 0)]]
    const path = draggedPath(contours, { contour: 0, place: 1 }, 'before', { x: 3, y: 3 }, same)
    expect(path).toContain('C14.0 0.0 20.0 0.0 20.0 0.0')
  })

  it('of a contour that is not there any more draws nothing', () => {
    expect(draggedPath([], { contour: 3, place: 0 }, 'move', { x: 1, y: 1 }, same)).toBe('')
  })
})
