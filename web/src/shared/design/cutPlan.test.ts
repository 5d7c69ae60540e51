import { describe, expect, it } from 'vitest'
import {
  laidAsShown,
  parseDegrees,
  type Sheets,
  showDegrees,
  showTime,
  spread,
  stockOf,
  withStock,
} from './cutPlan'
import { NO_RECIPE } from './recipe'

const RED = '#AA0000'
const laid = (copy_number: number, x: number) => ({
  motif: ` ${RED} part-1`,
  copy_number,
  x,
  y: 20,
  turn: 0,
  number: 1,
})
const sheet = (number: number, ...rows: ReturnType<typeof laid>[]) => ({
  film: RED,
  number,
  laid: rows,
})
const SHEETS = {
  motifs: [
    { key: ` ${RED} part-1`, design: '', name: '', film: RED, part: 'part-1', d: '', width: 10, height: 10 },
  ],
  sheets: [sheet(1, laid(0, 10), laid(1, 30)), sheet(2, laid(2, 10))],
} as unknown as Sheets

describe('what a film is', () => {
  it('is as usual where nothing is said, whatever the case of its colour', () => {
    const plan = withStock(NO_RECIPE.cut, RED, { name: 'Ruby' })
    expect(stockOf(plan, '#aa0000')).toMatchObject({ name: 'Ruby', width_mm: 300, roll: false })
    expect(stockOf(plan, '#00AA00').name).toBe('')
  })

  it('lays everything anew when its size changes, and not when its name does', () => {
    const plan = { ...NO_RECIPE.cut, laid: laidAsShown(SHEETS) }
    expect(withStock(plan, RED, { name: 'Ruby' }).laid).toHaveLength(3)
    expect(withStock(plan, RED, { width_mm: 500 }).laid).toEqual([])
  })

  it('is said once', () => {
    const twice = withStock(withStock(NO_RECIPE.cut, RED, { roll: true }), RED, { margin_mm: 8 })
    expect(twice.stocks).toHaveLength(1)
    expect(twice.stocks[0]).toMatchObject({ roll: true, margin_mm: 8 })
  })
})

describe('moving by hand', () => {
  it('keeps everything else where it is shown', () => {
    const now = laidAsShown(SHEETS, ` ${RED} part-1 1`, { sheet: 1, x: 44, y: 55 })
    expect(now.map(({ copy, sheet, x, y }) => [copy, sheet, x, y])).toEqual([
      [0, 0, 10, 20],
      [1, 1, 44, 55],
      [2, 1, 10, 20],
    ])
  })

  it('onto the sheets of another film', () => {
    const [first] = laidAsShown(SHEETS, ` ${RED} part-1 0`, { sheet_film: '#00AA00', sheet: 0 })
    expect(first).toMatchObject({ film: RED, sheet_film: '#00AA00', sheet: 0 })
  })
})

describe('the bench', () => {
  it('lays sheets side by side, and in rows where there are many', () => {
    const square = { width_mm: 300, height_mm: 300 }
    const places = spread([square, square], 1.6)
    expect(places[1]?.x).toBeGreaterThan(300)
    expect(places[1]?.y).toBe(0)
    const many = spread(
      Array.from({ length: 12 }, () => square),
      1.6,
    )
    expect(new Set(many.map(({ y }) => y)).size).toBeGreaterThan(1)
    for (const [n, one] of many.entries())
      for (const other of many.slice(0, n))
        expect(Math.abs(one.x - other.x) >= 300 || Math.abs(one.y - other.y) >= 300).toBe(true)
  })
})

describe('time and heat', () => {
  it.each([
    [8.4, '8 s'],
    [112, '1 min 52 s'],
    [3900, '1 h 5 min'],
  ])('%s s is said as %s', (seconds, said) => expect(showTime(seconds)).toBe(said))

  // 250 °F are 121.1 °C: (F − 32) · 5/9, by definition of the scales (NIST SP 811, appendix B.8).
  it.each([
    ['150 °C', 'mm', 150],
    ['150', 'mm', 150],
    ['250 °F', 'mm', 121.11],
    ['250', 'in', 121.11],
    ['hot', 'mm', null],
    ['', 'mm', null],
  ] as const)('%j in %s', (text, unit, celsius) => {
    const read = parseDegrees(text, unit)
    if (celsius === null) expect(read).toBeNull()
    else expect(read).toBeCloseTo(celsius, 1)
  })

  it('shows both scales, that of the unit first', () => {
    expect(showDegrees(150, 'mm')).toBe('150 °C (302 °F)')
    expect(showDegrees(150, 'in')).toBe('302 °F (150 °C)')
  })
})
