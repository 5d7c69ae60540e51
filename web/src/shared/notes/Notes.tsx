import { Flex } from '@chakra-ui/react'
import type { Problem } from '../api/client'
import { useSaving } from '../design/autosave'
import { usePart } from '../design/store'
import { useTrouble, useUnmet } from '../evaluation/store'
import { ProblemNote } from '../fields/ProblemNote'
import { ConflictNote } from './ConflictNote'
import { CopiesNote } from './CopiesNote'
import { PanelProblem } from './PanelProblem'

export interface Troubles {
  /** Why a file could not be saved. */
  fileProblem: Problem | null
}

/** What stands in the way, and what is not as asked, at the top of every stage's panel. */
export function Notes({ fileProblem }: Troubles) {
  const trouble = useTrouble()
  const unmet = useUnmet()
  const save = useSaving((s) => s.state)
  const blank = usePart((part) => part.text.trim() === '')
  const refused = save.kind === 'refused' ? save.problem : null
  // An empty field is no mistake yet; the work itself says what to do.
  const telling = trouble?.problem.kind === 'no-letters' && blank ? null : trouble
  // What keeps a file from being saved is told beside its part, where it is of one.
  const shown = telling?.problem ?? fileProblem ?? refused
  const copied = useSaving((s) => s.copies.length > 0)
  if (!shown && !copied && !unmet.length && save.kind !== 'conflict') return null
  return (
    <Flex direction="column" gap="2" p="3">
      <ConflictNote />
      <CopiesNote />
      {shown && <PanelProblem problem={shown} part={telling?.part ?? null} />}
      {!shown &&
        unmet.map(({ problem }) => (
          <ProblemNote key={problem.what} what={problem.what} todo={problem.todo} mild />
        ))}
    </Flex>
  )
}
