// Words and places for seams; what they measure comes from the server.

import type { Unit } from '../../shared/design/recipe'
import { useSelection } from '../../shared/design/selection'
import { showNumber } from '../../shared/design/units'
import type { Box, Seam } from '../../shared/evaluation/evaluation'
import { useView } from '../../shared/view/view'

/** "1.2 mm", or "gap 2.4 mm". */
export function figure(seam: Seam, unit: Unit): string {
  const shown = seam.state === 'gap' ? seam.gap_mm : seam.neck_mm
  const decimals = unit === 'in' ? 3 : shown < 1 ? 2 : 1
  if (seam.state === 'gap') return `gap ${showNumber(seam.gap_mm, unit, decimals)} ${unit}`
  const more = seam.at_least ? '≥ ' : ''
  return `${more}${showNumber(seam.neck_mm, unit, decimals)} ${unit}`
}

const FROM_THE_RIGHT = /[\u0590-\u08ff\ufb1d-\ufdff\ufe70-\ufeff]/
const LEFT_TO_RIGHT = '\u200e'

/** Two neighbours as they stand on the work, the left one first, also where they are read from the right. */
export const pairName = (left: string, right: string) =>
  FROM_THE_RIGHT.test(left + right)
    ? `${LEFT_TO_RIGHT}${left}${LEFT_TO_RIGHT} · ${LEFT_TO_RIGHT}${right}`
    : `${left} · ${right}`

/** Whether a seam holds: as asked, or as its letters do. */
export const holds = (seam: Seam) => seam.state === 'joined' || seam.state === 'lettering'

/** Whether its letters give no more: the joint cannot be stronger than they are. */
export const isAsItsLetters = (seam: Seam) =>
  seam.state === 'lettering' ||
  (seam.state === 'weak' && seam.given_mm < 0.99 * seam.asked_mm && seam.neck_mm > 0.9 * seam.given_mm)

/** The neck that is narrowest of all seams that hold at all. */
export function narrowest(seams: readonly Seam[]): number | null {
  const necks = seams.filter((s) => s.state !== 'gap').map((s) => s.neck_mm)
  return necks.length > 0 ? Math.min(...necks) : null
}

/** The middle of a seam on the work. */
export function middle(seam: Seam): { x: number; y: number } {
  const [a, b] = seam.ends
  return a && b ? { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 } : { x: 0, y: 0 }
}

/** The part of the work that shows a seam large; size is that of its face. */
export function around(seam: Seam, size: number, share: number): Box {
  const [a, b] = seam.ends
  const long = a && b ? Math.hypot(a.x - b.x, a.y - b.y) : 0
  const width = Math.max(size * share, Math.min(long * 1.6, size * share * 2))
  const { x, y } = middle(seam)
  return { x: x - width / 2, y: y - width / 2, width, height: width }
}

export const seamKey = (seam: Seam) =>
  `${seam.part} ${seam.left}${seam.meets === null ? '' : ` ${seam.meets} ${seam.right}`}`

/** How much of the size around a seam is shown when it is looked at. */
const LOOK = 1.1

/** Chooses a seam and brings it into the window, large. Where two parts meet nothing is decided: their letter
 * is chosen in Join, and nothing else changes in Build. */
export function lookAt(seam: Seam, size: number) {
  const { select } = useSelection.getState()
  if (seam.meets === null) select({ kind: 'seam', part: seam.part, left: seam.left, right: seam.right })
  else if (useView.getState().stage === 'join' && seam.left > 0)
    select({ kind: 'letters', part: seam.part, letters: [seam.left] })
  useView.getState().show(around(seam, size, LOOK))
}
