import { Box, Button, Flex, Input, Spinner, Text } from '@chakra-ui/react'
import { useMutation, useQuery } from '@tanstack/react-query'
import { ArrowLeft } from 'lucide-react'
import { useRef, useState } from 'react'
import { answer, api, asProblem, type Schemas } from '../../shared/api/client'
import type { FaceOut } from '../../shared/design/recipe'
import { useFacesChanged } from '../../shared/faces/useFaces'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { SampleDrawing } from './SampleDrawing'

type Installed = Schemas['InstalledFaceOut']

const SHOWN_AT_ONCE = 12

interface Props {
  text: string
  onBack: () => void
  onTaken: (face: FaceOut) => void
}

/** The faces installed on the computer that Fulgen runs on. One that is taken is copied into the shop. */
export function InstalledFaces({ text, onBack, onTaken }: Props) {
  const changed = useFacesChanged()
  const [search, setSearch] = useState('')
  const [most, setMost] = useState(SHOWN_AT_ONCE)
  const list = useRef<HTMLDivElement>(null)
  const installed = useQuery({
    queryKey: ['installed faces'],
    queryFn: ({ signal }) => answer(api.GET('/api/installed-faces', { signal })),
    gcTime: 0,
  })
  const take = useMutation({
    mutationFn: (face: Installed) =>
      answer(api.POST('/api/installed-faces/take', { body: { key: face.key } })),
    onSuccess: async (face) => {
      await changed()
      onTaken(face)
    },
  })
  const wanted = search.trim().toLowerCase()
  const all = (installed.data ?? []).filter((face) => face.name.toLowerCase().includes(wanted))
  const shown = all.slice(0, most)
  const problem = installed.error ?? take.error
  return (
    <Flex direction="column" minHeight="0" flex="1">
      <Flex direction="column" gap="2.5" px="4" py="3" borderBottomWidth="1px" borderColor="rule">
        <Flex align="center" gap="2">
          <Button size="xs" variant="outline" bg="card" aria-label="Back to all faces" onClick={onBack}>
            <ArrowLeft size={14} />
          </Button>
          <Text as="h2" fontSize="lg" fontWeight="700">
            Faces on this computer
          </Text>
        </Flex>
        <Text fontSize="sm" color="softInk">
          One that you use is copied into the shop, so your designs keep it. Look up in its licence whether
          you may sell what you cut with it.
        </Text>
        <Input
          aria-label="Search faces of this computer"
          placeholder="Search by name"
          value={search}
          onChange={(e) => {
            setSearch(e.target.value)
            setMost(SHOWN_AT_ONCE)
          }}
          size="sm"
          bg="card"
          borderColor="edge"
          autoFocus
          spellCheck={false}
        />
        {problem && <ProblemNote what={asProblem(problem).message} todo={asProblem(problem).todo} />}
      </Flex>
      <Box
        ref={list}
        role="list"
        aria-label="Faces on this computer"
        overflowY="auto"
        flex="1"
        minHeight="0"
        py="1"
      >
        {installed.isPending && (
          <Flex p="4" gap="2" color="softInk" align="center">
            <Spinner size="sm" /> Looking where faces are kept…
          </Flex>
        )}
        {Array.from({ length: Math.ceil(shown.length / SHOWN_AT_ONCE) }, (_, n) => n * SHOWN_AT_ONCE).map(
          (n) => (
            <SomeFaces
              key={n}
              faces={shown.slice(n, n + SHOWN_AT_ONCE)}
              text={text}
              taking={take.isPending ? take.variables.key : ''}
              onTake={take.mutate}
            />
          ),
        )}
        {installed.data && all.length === 0 && (
          <Text color="softInk" p="4">
            {wanted ? 'No face of this computer is called that.' : 'No faces are installed on this computer.'}
          </Text>
        )}
        {all.length > shown.length && (
          <Flex justify="center" p="3">
            <Button size="sm" variant="outline" bg="card" onClick={() => setMost(most + SHOWN_AT_ONCE)}>
              Show more ({all.length - shown.length})
            </Button>
          </Flex>
        )}
      </Box>
    </Flex>
  )
}

interface SomeProps {
  faces: readonly Installed[]
  text: string
  /** The key of the one that is being taken. */
  taking: string
  onTake: (face: Installed) => void
}

function SomeFaces({ faces, text, taking, onTake }: SomeProps) {
  const keys = faces.map(({ key }) => key)
  const { data } = useQuery({
    queryKey: ['installed samples', text, keys],
    queryFn: ({ signal }) =>
      answer(api.POST('/api/installed-faces/samples', { body: { text, keys }, signal })),
    staleTime: Number.POSITIVE_INFINITY,
  })
  return faces.map((face) => (
    <InstalledRow
      key={face.key}
      face={face}
      sample={data?.find(({ slug }) => slug === face.key)}
      taking={taking === face.key}
      onTake={() => onTake(face)}
    />
  ))
}

interface RowProps {
  face: Installed
  sample: Schemas['SampleOut'] | undefined
  taking: boolean
  onTake: () => void
}

function InstalledRow({ face, sample, taking, onTake }: RowProps) {
  const lacks = sample?.lacks ?? []
  return (
    <Flex role="listitem" aria-label={face.name} direction="column" gap="1.5" px="4" py="2.5">
      <SampleDrawing sample={sample} height={46} />
      <Flex justify="space-between" align="center" gap="3">
        <Box minWidth="0">
          <Text fontSize="sm" fontWeight="600" truncate>
            {face.name}
          </Text>
          <Text fontSize="xs" color={lacks.length > 0 ? 'thin' : 'softInk'} truncate>
            {lacks.length > 0 ? `has no ${lacks.slice(0, 4).join(' ')}` : face.systems.join(', ')}
          </Text>
        </Box>
        <Button size="xs" variant="outline" bg="card" flexShrink="0" loading={taking} onClick={onTake}>
          Use it
        </Button>
      </Flex>
      {face.forbids && (
        <Text fontSize="xs" bg="thinTint" borderRadius="sm" px="2" py="1">
          {face.forbids}
        </Text>
      )}
    </Flex>
  )
}
