import { Button } from '@chakra-ui/react'
import { Link } from 'react-router'
import { useSaving } from '../design/autosave'
import { ProblemNote } from '../fields/ProblemNote'

/** Unsaved work that other windows had left behind, kept as designs of their own. */
export function CopiesNote() {
  const copies = useSaving((s) => s.copies)
  return copies.map(({ id, name }) => (
    <ProblemNote
      key={id}
      what="Another window was closed with unsaved work on this design."
      todo={`It is on the shelf as “${name}”.`}
    >
      <Button asChild size="xs" variant="outline" mt="2.5">
        <Link to={`/design/${id}`}>Open it</Link>
      </Button>
    </ProblemNote>
  ))
}
