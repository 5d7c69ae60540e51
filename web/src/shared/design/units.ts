// Lengths as a maker types and reads them. Held to the same table of cases as the core's reader.

import type { Unit } from './recipe'

const MM_PER_INCH = 25.4
/** The point of desktop publishing. */
export const MM_PER_POINT = MM_PER_INCH / 72
const MM_PER: Record<string, number> = {
  mm: 1,
  cm: 10,
  m: 1000,
  in: MM_PER_INCH,
  inch: MM_PER_INCH,
  inches: MM_PER_INCH,
  '"': MM_PER_INCH,
  '″': MM_PER_INCH,
  pt: MM_PER_POINT,
}
const LENGTH = /^([-−+]?)\s*([\d.,/ -]*\d[.,]?)\s*([a-z"″]*)$/
const DECIMAL = /^(\d{1,9}(?:[.,]\d{0,9})?|[.,]\d{1,9})$/
const FRACTION = /^(?:(\d{1,9})[ -])?(\d{1,6})\/(\d{1,6})$/

/** Millimetres meant by a text such as "40 mm", "7in" or "1/8 in"; null when it is no length. */
export function parseLength(text: string, unit: Unit): number | null {
  const match = LENGTH.exec(text.trim().toLowerCase())
  if (!match) return null
  const [, sign = '', amount = '', typed = ''] = match
  const perUnit = MM_PER[typed || unit]
  const value = parseAmount(amount.trim())
  if (perUnit === undefined || value === null) return null
  return value * perUnit * (sign === '-' || sign === '−' ? -1 : 1)
}

function parseAmount(amount: string): number | null {
  if (DECIMAL.test(amount)) return Number(amount.replace(',', '.'))
  const fraction = FRACTION.exec(amount)
  if (!fraction || Number(fraction[3]) === 0) return null
  return Number(fraction[1] ?? 0) + Number(fraction[2]) / Number(fraction[3])
}

/** A length as it stands in a field: as many figures as matter, and its unit. */
export function showLength(mm: number, unit: Unit, decimals = unit === 'in' ? 3 : 2): string {
  return `${showNumber(mm, unit, decimals)} ${unit}`
}

/** The number alone, in the unit, without trailing noughts. */
export function showNumber(mm: number, unit: Unit, decimals = unit === 'in' ? 2 : 1): string {
  const value = unit === 'in' ? mm / MM_PER_INCH : mm
  return String(Number(value.toFixed(decimals)))
}

/** A length of cut: metres or feet once it is long. */
export function showCutLength(mm: number, unit: Unit): { number: string; unit: string } {
  if (unit === 'in') return { number: (mm / MM_PER_INCH).toFixed(1), unit: 'in' }
  return mm < 1000 ? { number: mm.toFixed(0), unit: 'mm' } : { number: (mm / 1000).toFixed(2), unit: 'm' }
}
