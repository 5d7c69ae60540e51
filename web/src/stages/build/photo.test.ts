import { expect, it } from 'vitest'
import { kept } from './levels'
import { type Photo, scaledBy } from './photo'

const PHOTO: Photo = {
  image: 'boat',
  x: 100,
  y: 50,
  width_mm: 200,
  height_mm: 100,
  turn: 0,
  shows: 1,
  hidden: false,
}

it('a photograph is scaled by two places on it: the first stays', () => {
  const spots = [
    { x: 100, y: 50 },
    { x: 130, y: 90 },
  ] as const
  expect(scaledBy(PHOTO, spots, 500)).toMatchObject({ x: 100, y: 50, width_mm: 2000, height_mm: 1000 })
  const corner = [
    { x: 0, y: 0 },
    { x: 30, y: 40 },
  ] as const
  expect(scaledBy(PHOTO, corner, 25)).toMatchObject({ x: 50, y: 25, width_mm: 100 })
})

it('two places that are one scale nothing', () => {
  const spot = { x: 3, y: 4 }
  expect(scaledBy(PHOTO, [spot, spot], 80)).toEqual(PHOTO)
})

it('a place is kept within what a recipe may say, turns by half a circle each way', () => {
  const far = { x: 9_000, y: -9_000, turn: 540, scale: 0, flip: true }
  expect(kept(far)).toEqual({ x: 5000, y: -5000, turn: -180, scale: 0.01, flip: true })
  expect(kept({ ...far, turn: -190 }).turn).toBe(170)
})
