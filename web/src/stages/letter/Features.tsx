import { Box, Flex, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { answer, api, type Schemas } from '../../shared/api/client'
import type { FaceOut } from '../../shared/design/recipe'
import { editOnce, usePart } from '../../shared/design/store'
import { useDebounced } from '../../shared/design/useDebounced'
import { Expander } from '../../shared/fields/Expander'
import { OutlinePicture, Tile } from '../../shared/fields/Tile'
import { Toggle } from '../../shared/fields/Toggle'

const QUIET_MS = 300

/** What the face can do with letters, each shown on the words; closed until wanted. */
export function Features({ face }: { face: FaceOut }) {
  const chosen = usePart((part) => part.features ?? {})
  const changed = face.features.filter((f) => (chosen[f.tag] ?? f.default) !== f.default).length
  return (
    <Expander label={`What this face can do${changed > 0 ? ` (${changed} changed)` : ''}`} open={false}>
      <FeatureList face={face} />
    </Expander>
  )
}

function FeatureList({ face }: { face: FaceOut }) {
  const chosen = usePart((part) => part.features ?? {})
  const pictures = usePictures()
  const isOn = (feature: FaceOut['features'][number]) => chosen[feature.tag] ?? feature.default
  const shown = face.features.filter(({ tag }) => pictures.get(tag)?.changes)
  // Without words there is nothing to show it on.
  const idle = face.features.filter(({ tag }) => pictures.size === 0 || pictures.get(tag)?.changes === false)

  function switchOver(feature: FaceOut['features'][number]) {
    editOnce({ features: { ...chosen, [feature.tag]: !isOn(feature) } })
  }

  return (
    <>
      <Flex direction="column" gap="1.5" role="group" aria-label="Changes to these words">
        {shown.map((feature) => (
          <Tile
            key={feature.tag}
            type="button"
            role="switch"
            aria-checked={isOn(feature)}
            display="grid"
            gridTemplateRows="34px auto"
            gap="1"
            px="2"
            py="1.5"
            onClick={() => switchOver(feature)}
          >
            <FeaturePicture picture={pictures.get(feature.tag)} />
            <Text fontSize="xs" textAlign="left">
              {isOn(feature) ? `${feature.name}: on. Without it, as shown.` : feature.name}
            </Text>
          </Tile>
        ))}
      </Flex>
      {idle.length > 0 && (
        <>
          {shown.length > 0 && (
            <Text fontSize="xs" color="softInk">
              These change nothing in these words:
            </Text>
          )}
          {idle.map((feature) => (
            <Toggle key={feature.tag} checked={isOn(feature)} onChange={() => switchOver(feature)}>
              {feature.name}
            </Toggle>
          ))}
        </>
      )}
    </>
  )
}

type Picture = Schemas['FeatureOut']

function FeaturePicture({ picture }: { picture: Picture | undefined }) {
  return picture ? <OutlinePicture box={picture.box} d={picture.d} /> : <Box bg="paper" borderRadius="sm" />
}

/** The words with each thing switched the other way, by its tag. */
function usePictures(): ReadonlyMap<string, Picture> {
  const face = usePart((part) => part.face)
  const features = usePart((part) => part.features)
  const text = useDebounced(
    usePart((part) => part.text),
    QUIET_MS,
  )
  const { data } = useQuery({
    queryKey: ['features', face, features, text],
    queryFn: ({ signal }) => {
      const body = { text: text.slice(0, 500), face, features: features ?? {} }
      return answer(api.POST('/api/faces/features', { body, signal }))
    },
    placeholderData: (before) => before,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
  })
  return new Map(data?.map((picture) => [picture.tag, picture]))
}
