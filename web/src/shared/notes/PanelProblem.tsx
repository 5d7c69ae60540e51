import { Button, Flex } from '@chakra-ui/react'
import type { Problem } from '../api/client'
import { partName } from '../design/partNames'
import { faceChange, findPart } from '../design/recipe'
import { useSelection } from '../design/selection'
import { editOnce, useDesign } from '../design/store'
import { useFaces } from '../faces/useFaces'
import { ProblemNote } from '../fields/ProblemNote'

/** A problem beside the work; faces that would do can be taken at once. */
export function PanelProblem({ problem, part }: { problem: Problem; part: string | null }) {
  const chosen = useSelection((s) => s.selection.part)
  const words = useDesign((s) => partName(findPart(s.recipe, part ?? '')))
  const faces = useFaces()
  const able = faces.filter((face) => problem.faces.includes(face.name)).slice(0, 4)
  return (
    <ProblemNote
      what={part !== null && part !== chosen ? `“${words}”: ${problem.message}` : problem.message}
      todo={problem.todo}
    >
      {able.length > 0 && (
        <Flex gap="1.5" mt="2" wrap="wrap">
          {able.map((face) => (
            <Button
              key={face.slug}
              size="xs"
              variant="outline"
              bg="card"
              onClick={() => {
                const now = findPart(useDesign.getState().recipe, part ?? chosen)
                if (now?.kind === 'lettering') editOnce(faceChange(now, face), now.id)
              }}
            >
              {face.name}
            </Button>
          ))}
        </Flex>
      )}
    </ProblemNote>
  )
}
