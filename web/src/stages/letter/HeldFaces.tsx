import { Box, chakra, Flex, IconButton, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { X } from 'lucide-react'
import { answer, api } from '../../shared/api/client'
import { type FaceOut, faceChange, type Lettering, withPart } from '../../shared/design/recipe'
import { withShopDefaults } from '../../shared/design/shopDefaults'
import { editOnce, partNow, useDesign, usePart } from '../../shared/design/store'
import { useDebounced } from '../../shared/design/useDebounced'
import { useFaces } from '../../shared/faces/useFaces'
import { OutlinePicture, Tile } from '../../shared/fields/Tile'
import { useHeld } from './held'

const STILL_MS = 500

const Held = chakra(Tile, {
  base: { display: 'grid', gridTemplateRows: '92px auto', gap: '1', p: '2', width: '100%', height: '100%' },
})

/** The faces that are held beside each other: the lettering in each, as it would be cut, below the work. */
export function HeldFaces() {
  const slugs = useHeld((s) => s.slugs)
  const faces = useFaces()
  if (slugs.length === 0) return null
  return (
    <Flex
      gap="2"
      px="3"
      py="2"
      bg="paper"
      borderTopWidth="1px"
      borderColor="rule"
      role="group"
      aria-label="Faces held beside each other"
    >
      {slugs.map((slug) => {
        const face = faces.find((one) => one.slug === slug)
        return face && <HeldFace key={slug} face={face} />
      })}
    </Flex>
  )
}

function HeldFace({ face }: { face: FaceOut }) {
  const putAway = useHeld((s) => s.putAway)
  const part = useDebounced(
    usePart((now) => now),
    STILL_MS,
  )
  const inUse = usePart((now) => now.face.family) === face.slug
  const picture = usePicture(part, face)
  return (
    <Box position="relative" flex="1" minWidth="0" maxWidth="360px">
      <Held type="button" aria-pressed={inUse} onClick={() => editOnce(faceChange(partNow(), face))}>
        {picture.data?.box ? (
          <OutlinePicture box={picture.data.box} d={picture.data.films.map((film) => film.d).join('')} />
        ) : (
          <Text fontSize="sm" color="softInk" alignSelf="center">
            {picture.error ? 'These words cannot be set in it.' : ''}
          </Text>
        )}
        <Text fontSize="sm" fontWeight="600" textAlign="left" truncate>
          {face.name}
        </Text>
      </Held>
      <IconButton
        aria-label={`Put ${face.name} away`}
        size="2xs"
        variant="ghost"
        position="absolute"
        top="1"
        right="1"
        onClick={() => putAway(face.slug)}
      >
        <X size={14} />
      </IconButton>
    </Box>
  )
}

/** The lettering in another face, joined as it would be. */
function usePicture(part: Lettering, face: FaceOut) {
  return useQuery({
    queryKey: ['held face', part, face.slug],
    queryFn: ({ signal }) => {
      const { recipe } = useDesign.getState()
      const alone = { ...recipe, parts: [part], bars: [], touch_ups: [], accepted_findings: [] }
      const changed = withPart(alone, part.id, faceChange(part, face))
      const body = { recipe: withShopDefaults(alone, changed), part: part.id }
      return answer(api.POST('/api/frames/picture', { body, signal }))
    },
    placeholderData: (before) => before,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    retry: false,
  })
}
