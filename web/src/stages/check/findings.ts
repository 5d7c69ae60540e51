// Which finding is looked at, and where.

import type { Schemas } from '../../shared/api/client'
import { useSelection } from '../../shared/design/selection'
import type { Box } from '../../shared/evaluation/evaluation'
import type { Findings } from '../../shared/evaluation/store'

export type Finding = Schemas['FindingOut']

/** How many are to be repaired, to be looked at, and accepted. */
export function tally({ findings, lost }: Findings) {
  const open = findings.filter((f) => !f.accepted)
  const repair = open.filter((f) => f.blocks).length
  return { repair, look: open.length - repair + lost.length, known: findings.length - open.length }
}

/** A finding told again after a change of the recipe: by what it is and where. */
export const findingKey = (f: Finding) =>
  `${f.kind} ${f.part} ${f.as_accepted.at.letter} ${f.as_accepted.at.x.toFixed(3)} ${f.as_accepted.at.y.toFixed(3)}`

/** Findings that are alike: of one kind, all of them open, or all accepted. */
export interface Alike {
  kind: Finding['kind']
  accepted: boolean
  blocks: boolean
  findings: Finding[]
}

const MANY: Record<string, string> = {
  hairline: 'strokes are thin',
  neck: 'necks are weak',
  narrow: 'necks are narrower than you asked',
  hole: 'holes are too small to weed',
  counter: 'counters are closed by thickening',
  near: 'pairs of edges almost touch',
  slit: 'slits are too narrow to weed',
  'small-piece': 'pieces are too small to hold',
  piece: 'parts of words come off as pieces of their own',
  mark: 'dots and accents come off as pieces of their own',
  sliver: 'slivers stick out',
  points: 'places have more points than a knife can follow',
}

/** Findings in rows of those that are alike, in the order of the first of each. */
export function alike(findings: readonly Finding[]): Alike[] {
  const rows = new Map<string, Alike>()
  for (const finding of findings) {
    const { kind, accepted, blocks } = finding
    const key = `${kind} ${accepted} ${blocks}`
    const row = rows.get(key)
    if (row) row.findings.push(finding)
    else rows.set(key, { kind, accepted, blocks, findings: [finding] })
  }
  return [...rows.values()]
}

/** What a row of findings says: the one there is, or how many of what. */
export function said({ kind, findings }: Alike): string {
  const [only] = findings
  if (findings.length === 1 && only) return only.what
  return `${findings.length} ${MANY[kind] ?? 'things are to be looked at'}`
}

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
