import { Box, Button, CloseButton, Dialog, Flex, Portal, Spinner, Text } from '@chakra-ui/react'
import { FindingMark } from './FindingMark'
import { closeGate, useGate } from './gate'
import { useReady } from './ready'
import { StopActions } from './StopActions'

/** What is to be known before a design goes out: seen to at once, elsewhere, or left as it is. */
export function Gate() {
  const waiting = useGate((s) => s.waiting)
  const told = useReady()
  const now = told?.stops ?? []
  // What the server said of other designs, or of the sheets, is not of this design alone.
  const own = waiting?.said.where === 'checklist' && now.length === 0
  const stops =
    own && waiting ? [{ about: 'other', what: waiting.said.message, todo: waiting.said.todo }] : now
  const clear = told !== undefined && stops.length === 0

  function go() {
    closeGate()
    waiting?.go()
  }
  return (
    <Dialog.Root
      open={waiting !== null}
      onOpenChange={(e) => !e.open && closeGate()}
      placement="center"
      size="sm"
    >
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="card" color="ink">
            <Dialog.Header>
              <Dialog.Title>{clear ? 'Ready' : 'Before it goes out'}</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              {told === undefined && <Spinner size="sm" />}
              <Flex as="ul" direction="column" gap="3" listStyleType="none" aria-label="To be known first">
                {stops.map((stop) => (
                  <Flex as="li" key={stop.what} gap="2.5">
                    <Box pt="0.5" flexShrink="0">
                      <FindingMark blocks look={false} />
                    </Box>
                    <Box>
                      <Text fontWeight="600">{stop.what}</Text>
                      <Text fontSize="sm" color="softInk">
                        {stop.todo}
                      </Text>
                      <StopActions about={stop.about} onLeave={closeGate} />
                    </Box>
                  </Flex>
                ))}
              </Flex>
              {clear && <Text>Nothing is too weak or too small any more.</Text>}
            </Dialog.Body>
            <Dialog.Footer>
              <Button size="sm" variant="outline" onClick={closeGate}>
                Not yet
              </Button>
              <Button
                size="sm"
                {...(clear
                  ? { bg: 'knife', color: 'card', _hover: { bg: 'knifeDeep' } }
                  : { variant: 'outline' as const })}
                onClick={go}
              >
                {clear ? waiting?.label : waiting?.allTheSame}
              </Button>
            </Dialog.Footer>
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  )
}
