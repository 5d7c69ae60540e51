import { Button, Flex, Text } from '@chakra-ui/react'

interface Props {
  name: string
  onRestore: () => void
  onFine: () => void
}

/** Says that something was taken away, and offers to put it back. */
export function OffTheShelf({ name, onRestore, onFine }: Props) {
  return (
    <Flex
      role="status"
      position="fixed"
      bottom="6"
      left="50%"
      transform="translateX(-50%)"
      bg="ink"
      color="card"
      pl="5"
      pr="2.5"
      py="2.5"
      gap="4"
      borderRadius="lg"
      align="center"
      boxShadow="lg"
    >
      <Text>“{name}” is off the shelf.</Text>
      <Button size="sm" bg="card" color="ink" onClick={onRestore}>
        Put it back
      </Button>
      <Button size="sm" variant="plain" color="railInk" onClick={onFine}>
        Fine
      </Button>
    </Flex>
  )
}
