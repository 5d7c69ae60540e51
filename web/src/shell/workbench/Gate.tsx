import { Box, Button, CloseButton, Dialog, Flex, Portal, Spinner, Text } from '@chakra-ui/react'
import { FindingMark } from '../../shared/fields/FindingMark'
import { closeGate, useGate, type Waiting } from '../../shared/ready/gate'
import { useReady } from '../../shared/ready/ready'
import { StopActions } from '../../shared/ready/StopActions'
import { Checklist } from '../../stages/cut/Checklist'
import { useSheets } from '../../stages/cut/useSheets'

/** What is to be known before a design goes out: seen to at once, elsewhere, or left as it is. */
export function Gate() {
  const waiting = useGate((s) => s.waiting)
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
            {waiting && (waiting.to === 'file' ? <ToFile of={waiting} /> : <ToSheets of={waiting} />)}
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  )
}

/** A design on its way to a file. */
function ToFile({ of }: { of: Waiting }) {
  const stops = useReady()?.stops
  return (
    <Known of={of} clear={stops && stops.length === 0}>
      <Flex as="ul" direction="column" gap="3" listStyleType="none" aria-label="To be known first">
        {stops?.map((stop) => (
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
    </Known>
  )
}

/** A design on its way to the cutter, with all that lies on its sheets. */
function ToSheets({ of }: { of: Waiting }) {
  const { sheets } = useSheets()
  const asks = sheets?.checklist.filter((point) => point.state === 'ask')
  return (
    <Known of={of} clear={asks && asks.length === 0}>
      <Checklist points={asks ?? []} />
    </Known>
  )
}

interface KnownProps {
  of: Waiting
  /** Whether nothing is to be known any more; not known yet while it is looked at. */
  clear: boolean | undefined
  children: React.ReactNode
}

function Known({ of, clear, children }: KnownProps) {
  return (
    <>
      <Dialog.Header>
        <Dialog.Title>{clear ? 'Ready' : 'Before it goes out'}</Dialog.Title>
      </Dialog.Header>
      <Dialog.Body>
        {clear === undefined && <Spinner size="sm" />}
        {children}
        {clear && <Text>All is seen to.</Text>}
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
          onClick={() => {
            closeGate()
            of.go()
          }}
        >
          {clear ? of.label : of.allTheSame}
        </Button>
      </Dialog.Footer>
    </>
  )
}
