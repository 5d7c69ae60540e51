import { Button, Flex } from '@chakra-ui/react'
import { useDesign } from '../design/store'
import { useView } from '../view/view'
import { withAllJoined, withPiecesKnown } from './gate'
import { readied, take } from './ready'

interface Props {
  about: string
  /** Called when the maker goes elsewhere to see to it. */
  onLeave?: () => void
}

/** What can be done at once about something that stands at the gate. */
export function StopActions({ about, onLeave }: Props) {
  const asked = useDesign((s) => s.recipe.ready != null)
  if (about === 'loose')
    return (
      <Flex gap="2" mt="1.5">
        <Button size="xs" bg="ink" color="card" onClick={() => take(withAllJoined)}>
          Join it
        </Button>
        <Button size="xs" variant="outline" onClick={() => take(withPiecesKnown)}>
          I know
        </Button>
      </Flex>
    )
  if (about !== 'findings') return null
  return (
    <Flex gap="2" mt="1.5">
      {!asked && (
        <Button size="xs" bg="ink" color="card" onClick={() => take(readied)}>
          Make it ready
        </Button>
      )}
      <Button
        size="xs"
        variant="outline"
        onClick={() => {
          useView.getState().setStage('check')
          onLeave?.()
        }}
      >
        See it
      </Button>
    </Flex>
  )
}
