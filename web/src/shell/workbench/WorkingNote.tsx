import { Button, Flex, Spinner, Text } from '@chakra-ui/react'
import { stopWorking } from '../../shared/evaluation/driver'
import { useEvaluations } from '../../shared/evaluation/store'

/** Long work says so, and can be stopped. */
export function WorkingNote() {
  const working = useEvaluations((s) => s.working)
  if (!working) return null
  return (
    <Flex
      role="status"
      position="absolute"
      bottom="6"
      left="50%"
      transform="translateX(-50%)"
      bg="card"
      borderWidth="1px"
      borderColor="rule"
      borderRadius="lg"
      boxShadow="md"
      px="4"
      py="2"
      gap="3"
      align="center"
    >
      <Spinner size="sm" color="softInk" />
      <Text>Working it out…</Text>
      <Button size="xs" variant="outline" onClick={stopWorking}>
        Stop
      </Button>
    </Flex>
  )
}
