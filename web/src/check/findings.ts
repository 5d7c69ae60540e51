// Which finding is looked at, and where.

import type { Schemas } from '../api/client'
import { useSelection } from '../design/selection'
import type { Box } from '../evaluation/evaluation'
import type { Findings } from '../evaluation/store'

export type Finding = Schemas['FindingOut']

/** How many are to be repaired, to be looked at, and accepted. */
export function tally({ findings, lost }: Findings) {
  const open = findings.filter((f) => !f.accepted)
  const repair = open.filter((f) => f.blocks).length
  return { repair, look: open.length - repair + lost.length, known: findings.length - open.length }
}

/** A finding told again after a change of the recipe: by what it is and where. */
export const findingKey = (f: Finding) =>
  `${f.kind} ${f.part} ${f.known.at.letter} ${f.known.at.x.toFixed(3)} ${f.known.at.y.toFixed(3)}`

/** The finding that is looked at, by its key. */
export const useChosenFinding = () =>
  useSelection(({ selection: s }) => (s.kind === 'finding' ? s.finding : null))

/** Looks at a finding, or lets go of it. */
export function chooseFinding(finding: Finding | null) {
  const { select, clear } = useSelection.getState()
  if (finding) select({ kind: 'finding', part: finding.part, finding: findingKey(finding) })
  else clear()
}

/** The part of the work that shows a finding large. */
export function around({ box, size_mm }: Pick<Finding, 'box' | 'size_mm'>): Box {
  const width = Math.max(box.width * 2.2, box.height * 2.2, size_mm * 0.5)
  return {
    x: box.x + box.width / 2 - width / 2,
    y: box.y + box.height / 2 - width / 2,
    width,
    height: width,
  }
}
