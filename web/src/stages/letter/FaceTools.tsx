import { Button, Flex, Text } from '@chakra-ui/react'
import { Columns2, Star } from 'lucide-react'
import type { FaceOut } from '../../shared/design/recipe'
import { MOST_HELD, useHeld } from './held'
import { useFavour } from './useFavour'

interface Props {
  face: FaceOut
  onLike: () => void
}

/** What can be done with the face in use, below the list. */
export function FaceTools({ face, onLike }: Props) {
  const favour = useFavour()
  const { slugs, hold, putAway } = useHeld()
  const held = slugs.includes(face.slug)
  return (
    <Flex
      align="center"
      gap="1.5"
      px="4"
      py="2"
      borderTopWidth="1px"
      borderColor="rule"
      role="group"
      aria-label="The face in use"
    >
      <Text fontSize="sm" fontWeight="600" truncate flex="1" minWidth="0">
        {face.name}
      </Text>
      <Button
        size="xs"
        variant="outline"
        bg="card"
        aria-pressed={face.favourite}
        onClick={() => favour(face, !face.favourite)}
      >
        <Star size={13} fill={face.favourite ? 'currentColor' : 'none'} /> Favourite
      </Button>
      <Button size="xs" variant="outline" bg="card" onClick={onLike}>
        More like this
      </Button>
      <Button
        size="xs"
        variant="outline"
        bg="card"
        aria-pressed={held}
        disabled={!held && slugs.length >= MOST_HELD}
        title={`Up to ${MOST_HELD} faces lie beside each other below the work`}
        onClick={() => (held ? putAway(face.slug) : hold(face.slug))}
      >
        <Columns2 size={13} /> {held ? 'Put away' : 'Hold beside'}
      </Button>
    </Flex>
  )
}
