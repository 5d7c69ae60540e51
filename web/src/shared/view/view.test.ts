import { beforeEach, describe, expect, test } from 'vitest'
import { projection, TRUE_SCALE, useView } from './view'

const view = () => useView.getState()
const BOX = { x: 10, y: -30, width: 120, height: 40 }

beforeEach(() => {
  view().setWindow(900, 600)
  view().turnOver(false)
})

describe.each([false, true])('mirrored: %s', (mirror) => {
  beforeEach(() => view().turnOver(mirror))

  test('a pixel goes back to the millimetre it came from', () => {
    view().fitTo(BOX)
    const { px, mm } = projection(view())
    for (const at of [
      { x: 0, y: 0 },
      { x: 33.5, y: -12 },
    ]) {
      expect(mm(px(at)).x).toBeCloseTo(at.x, 9)
      expect(mm(px(at)).y).toBeCloseTo(at.y, 9)
    }
  })

  test('fitted, the work is whole in the window, its middle in the middle', () => {
    view().fitTo(BOX)
    const { px } = projection(view())
    const [one, other] = [px({ x: 10, y: -30 }), px({ x: 130, y: 10 })]
    for (const { x, y } of [one, other]) {
      expect(x).toBeGreaterThan(0)
      expect(x).toBeLessThan(900)
      expect(y).toBeGreaterThan(0)
      expect(y).toBeLessThan(600)
    }
    expect((one.x + other.x) / 2).toBeCloseTo(450, 6)
    expect(Math.sign(other.x - one.x)).toBe(mirror ? -1 : 1)
  })

  test('the place under the pointer stays there while zooming', () => {
    view().fitTo(BOX)
    const before = projection(view()).mm({ x: 200, y: 150 })
    view().zoomAt(3, 200, 150)
    const after = projection(view()).mm({ x: 200, y: 150 })
    expect(after.x).toBeCloseTo(before.x, 9)
    expect(after.y).toBeCloseTo(before.y, 9)
  })
})

test('turned over, the work is fitted anew; looked at from the same side, it stays', () => {
  view().pan(5, 5)
  view().turnOver(false)
  expect(view().fitted).toBe(false)
  view().turnOver(true)
  expect(view().fitted).toBe(true)
})

test('true size is 96 pixels to the inch', () => {
  // CSS Values and Units 4, section 6.2; 1 in = 25.4 mm.
  view().trueSize()
  expect(view().scale * 25.4).toBeCloseTo(96, 9)
  expect(TRUE_SCALE * 25.4).toBeCloseTo(96, 9)
})
