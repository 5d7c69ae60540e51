import { expect, test } from 'vitest'
import table from '../../../../tests/lengths.json'
import { parseLength, showCutLength, showLength, showNumber } from './units'

// The core's reader is held to the same table; 1 in = 25.4 mm: international yard and pound agreement, 1959.
test.each(table.cases as [string, 'mm' | 'in', number | null][])('%j in %s', (text, unit, mm) => {
  const read = parseLength(text, unit)
  if (mm === null) expect(read).toBeNull()
  else expect(read).toBeCloseTo(mm, 12)
})

test('lengths are shown with their unit and no trailing noughts', () => {
  expect(showLength(177.8, 'mm')).toBe('177.8 mm')
  expect(showLength(177.8, 'in')).toBe('7 in')
  expect(showNumber(3.175, 'in', 3)).toBe('0.125')
})

test('a long cut is told in metres', () => {
  expect(showCutLength(999, 'mm')).toEqual({ number: '999', unit: 'mm' })
  expect(showCutLength(1254, 'mm')).toEqual({ number: '1.25', unit: 'm' })
  expect(showCutLength(254, 'in')).toEqual({ number: '10.0', unit: 'in' })
})
