// Words and places for seams; what they measure comes from the server.

import type { Evaluation, Measured, Unit } from '../design/recipe'
import { showNumber } from '../design/units'
import type { Seam } from './SeamMark'

/** "1.2 mm", or "gap 2.4 mm". */
export function figure(seam: Seam, unit: Unit): string {
  const shown = seam.state === 'gap' ? seam.gap_mm : seam.neck_mm
  const decimals = unit === 'in' ? 3 : shown < 1 ? 2 : 1
  if (seam.state === 'gap') return `gap ${showNumber(seam.gap_mm, unit, decimals)} ${unit}`
  const more = seam.at_least ? '≥ ' : ''
  return `${more}${showNumber(seam.neck_mm, unit, decimals)} ${unit}`
}

/** The neck that is narrowest of all seams that hold at all. */
export function narrowest(evaluation: Measured): number | null {
  const necks = evaluation.seams.filter((s) => s.state !== 'gap').map((s) => s.neck_mm)
  return necks.length > 0 ? Math.min(...necks) : null
}

/** The middle of a seam on the work. */
export function middle(seam: Seam): { x: number; y: number } {
  const [a, b] = seam.ends
  return a && b ? { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 } : { x: 0, y: 0 }
}

/** The part of the work that shows a seam large. */
export function around(seam: Seam, evaluation: Evaluation, share: number) {
  const size = evaluation.parts.find((p) => p.id === seam.part)?.size_mm ?? 40
  const [a, b] = seam.ends
  const long = a && b ? Math.hypot(a.x - b.x, a.y - b.y) : 0
  const width = Math.max(size * share, Math.min(long * 1.6, size * share * 2))
  const { x, y } = middle(seam)
  return { x: x - width / 2, y: y - width / 2, width, height: width }
}

export const seamKey = (seam: Seam) => `${seam.part} ${seam.left}`
