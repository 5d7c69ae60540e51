import { Flex, Text } from '@chakra-ui/react'
import type { Problem } from '../api/client'
import { partName } from '../design/partNames'
import { type FaceOut, faceChange, findPart } from '../design/recipe'
import { useSelection } from '../design/selection'
import { editOnce, useDesign } from '../design/store'
import { useFaces, useSample, useSettledWords } from '../faces/useFaces'
import { ProblemNote } from '../fields/ProblemNote'
import { OutlinePicture, Tile } from '../fields/Tile'

const MOST_SHOWN = 6

/** A problem beside the work; faces that would do are shown with the words, and taken with one click. */
export function PanelProblem({ problem, part }: { problem: Problem; part: string | null }) {
  const chosen = useSelection((s) => s.selection.part)
  const found = useDesign((s) => findPart(s.recipe, part ?? chosen))
  const words = partName(found)
  const faces = useFaces()
  const lettering = found?.kind === 'lettering' ? found : undefined
  const kind = faces.find(({ slug }) => slug === lettering?.face.family)?.kind
  // Those of the same kind first.
  const able = faces
    .filter((face) => problem.faces.includes(face.name))
    .toSorted((a, b) => Number(b.kind === kind) - Number(a.kind === kind))
    .slice(0, MOST_SHOWN)
  return (
    <ProblemNote
      what={part !== null && part !== chosen ? `“${words}”: ${problem.message}` : problem.message}
      todo={problem.todo}
    >
      {lettering && able.length > 0 && (
        <Flex gap="1.5" mt="2" wrap="wrap" role="group" aria-label="Faces that have all of these letters">
          {able.map((face) => (
            <AbleFace
              key={face.slug}
              face={face}
              text={lettering.text}
              onTake={() => editOnce(faceChange(lettering, face), lettering.id)}
            />
          ))}
        </Flex>
      )}
    </ProblemNote>
  )
}

interface AbleProps {
  face: FaceOut
  text: string
  onTake: () => void
}

function AbleFace({ face, text, onTake }: AbleProps) {
  const sample = useSample(useSettledWords(text), face.slug)
  return (
    <Tile
      type="button"
      width="calc(50% - 3px)"
      display="grid"
      gridTemplateRows="30px auto"
      gap="1"
      px="2"
      py="1.5"
      onClick={onTake}
    >
      {sample?.d ? <OutlinePicture box={sample.box} d={sample.d} /> : <span />}
      <Text fontSize="xs" truncate>
        {face.name}
      </Text>
    </Tile>
  )
}
