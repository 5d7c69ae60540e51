import { Box, Button, Text } from '@chakra-ui/react'
import { Link } from 'react-router'
import { useSaving } from '../design/autosave'

/** Unsaved work that other windows had left behind, kept as designs of their own. Nothing is wrong: it is told calmly. */
export function CopiesNote() {
  const copies = useSaving((s) => s.copies)
  return copies.map(({ id, name }) => (
    <Box
      key={id}
      role="status"
      bg="paper"
      borderLeftWidth="3px"
      borderColor="hold"
      borderRadius="sm"
      px="3"
      py="2.5"
    >
      <Text fontWeight="650">Another window was closed with unsaved work on this design.</Text>
      <Text>It is on the shelf as “{name}”.</Text>
      <Button asChild size="xs" variant="outline" mt="2">
        <Link to={`/design/${id}`}>Open it</Link>
      </Button>
    </Box>
  ))
}
