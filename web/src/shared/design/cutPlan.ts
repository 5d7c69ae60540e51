// How a design is cut: the plan in its recipe, and pure changes of it. Places are in mm on a sheet.

import type { Schemas } from '../api/client'
import { defaultsOf } from '../api/model'
import type { Recipe } from './recipe'

export type CutPlan = Recipe['cut']
export type Stock = Schemas['Stock']
export type Laid = Schemas['LaidCopy']
export type Sheets = Schemas['SheetsOut']
export type Sheet = Schemas['SheetOut']
export type LaidMotif = Schemas['LaidOut']
export type Motif = Schemas['MotifOut']
export type Machine = Schemas['Machine']

const DEFAULT_STOCK: Omit<Stock, 'film'> = defaultsOf('Stock')

const same = (one: string, other: string) => one.toUpperCase() === other.toUpperCase()

/** What a film is; as usual where nothing is said. */
export const stockOf = (plan: CutPlan, film: string): Stock =>
  plan.stocks.find((stock) => same(stock.film, film)) ?? { film, ...DEFAULT_STOCK }

/** The plan with another word about a film. Another size of its sheets lays everything anew. */
export function withStock(plan: CutPlan, film: string, change: Partial<Stock>): CutPlan {
  const stock = { ...stockOf(plan, film), ...change }
  const others = plan.stocks.filter((s) => !same(s.film, film))
  const anew = Object.keys(change).some((key) => key !== 'name' && key !== 'material')
  return { ...plan, stocks: [...others, stock], ...(anew ? { laid: [], closely: false } : {}) }
}

/** A copy of a motif by a key that stays while it is moved. */
export const copyKey = (laid: Pick<LaidMotif, 'motif' | 'copy_number'>) => `${laid.motif} ${laid.copy_number}`

export const motifOf = (sheets: Sheets, laid: LaidMotif): Motif | undefined =>
  sheets.motifs.find((motif) => motif.key === laid.motif)

/** Where something is moved to: another place or turn, or another sheet; one beyond the last of a film is new. */
export interface Move {
  sheet_film?: string
  sheet?: number
  x?: number
  y?: number
  turn?: number
}

/** Everything where it lies now, as laid by hand; but one copy, by its key, that is moved. */
export function laidAsShown(sheets: Sheets, key = '', move: Move = {}): Laid[] {
  return sheets.sheets.flatMap((sheet) =>
    sheet.laid.flatMap((laid) => {
      const motif = motifOf(sheets, laid)
      if (!motif) return []
      const { design, film, part } = motif
      const { x, y, turn, copy_number: copy } = laid
      const here = { design, film, part, copy, sheet_film: sheet.film, sheet: sheet.number - 1, x, y, turn }
      return [copyKey(laid) === key ? { ...here, ...move } : here]
    }),
  )
}

/** Where each sheet lies on the bench: side by side, in as many rows as suit a window so many times as wide as
 * high. */
export function spread(
  sheets: readonly Pick<Sheet, 'width_mm' | 'height_mm'>[],
  aspect: number,
): { x: number; y: number }[] {
  const gap = Math.max(20, ...sheets.map((s) => Math.max(s.width_mm, s.height_mm) * 0.12))
  const area = sheets.reduce((sum, s) => sum + (s.width_mm + gap) * (s.height_mm + gap), 0)
  const wide = Math.max(Math.sqrt(area * aspect) * 1.15, ...sheets.map((s) => s.width_mm + gap))
  let x = 0
  let y = 0
  let deep = 0
  return sheets.map((sheet) => {
    if (x > 0 && x + sheet.width_mm > wide) {
      x = 0
      y += deep + gap
      deep = 0
    }
    const at = { x, y }
    x += sheet.width_mm + gap
    deep = Math.max(deep, sheet.height_mm)
    return at
  })
}

/** A time as it is said: 45 s, 1 min 52 s, 1 h 5 min. */
export function showTime(seconds: number): string {
  const whole = Math.max(0, Math.round(seconds))
  if (whole < 60) return `${whole} s`
  if (whole < 3600) return `${Math.floor(whole / 60)} min ${whole % 60} s`
  return `${Math.floor(whole / 3600)} h ${Math.round((whole % 3600) / 60)} min`
}

/** Degrees in the scale of the maker's unit; the other one beside it. */
export function showDegrees(celsius: number, unit: Recipe['unit']): string {
  const both = [`${Math.round(celsius)} °C`, `${Math.round((celsius * 9) / 5 + 32)} °F`]
  return unit === 'in' ? `${both[1]} (${both[0]})` : `${both[0]} (${both[1]})`
}

/** °C meant by a text such as "150 °C", "300F" or "150"; null when it is none. */
export function parseDegrees(text: string, unit: Recipe['unit']): number | null {
  const match = /^(\d{1,3}(?:[.,]\d+)?)\s*°?\s*([cf]?)$/i.exec(text.trim())
  if (!match) return null
  const number = Number(match[1]?.replace(',', '.'))
  const scale = match[2]?.toLowerCase() || (unit === 'in' ? 'f' : 'c')
  return scale === 'f' ? ((number - 32) * 5) / 9 : number
}
