import { Button, Flex } from '@chakra-ui/react'
import type { Problem } from '../api/client'
import { withFace } from '../design/recipe'
import { endStep, partNow, useDesign } from '../design/store'
import { ProblemNote } from '../parts/ProblemNote'
import { useFaces } from './useFaces'

/** A problem beside the work; faces that would do can be taken at once. */
export function PanelProblem({ problem }: { problem: Problem }) {
  const edit = useDesign((s) => s.edit)
  const faces = useFaces()
  const able = faces.filter((face) => problem.faces.includes(face.name)).slice(0, 4)
  return (
    <ProblemNote what={problem.message} todo={problem.todo}>
      {able.length > 0 && (
        <Flex gap="1.5" mt="2" wrap="wrap">
          {able.map((face) => (
            <Button
              key={face.slug}
              size="xs"
              variant="outline"
              bg="card"
              onClick={() => {
                endStep()
                edit(withFace(partNow(), face))
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
