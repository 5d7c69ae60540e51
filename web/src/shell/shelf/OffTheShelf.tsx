import { Button, Flex, Text } from '@chakra-ui/react'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'

interface Card {
  id: string
  name: string
}

/** Takes cards off the shelf, and puts the last one back. `list`: the key under which the cards are asked for. */
export function useOffTheShelf(
  list: string,
  calls: { remove: (id: string) => Promise<unknown>; restore: (id: string) => Promise<unknown> },
) {
  const queries = useQueryClient()
  const [card, setCard] = useState<Card | null>(null)
  const refresh = (taken: Card | null) => {
    setCard(taken)
    return queries.invalidateQueries({ queryKey: [list] })
  }
  const remove = useMutation({
    mutationFn: ({ id }: Card) => calls.remove(id),
    onSuccess: (_, taken) => refresh(taken),
  })
  const restore = useMutation({
    mutationFn: ({ id }: Card) => calls.restore(id),
    onSuccess: () => refresh(null),
  })
  return {
    remove: (taken: Card) => remove.mutate(taken),
    error: remove.error ?? restore.error,
    note: card && (
      <OffTheShelf name={card.name} onRestore={() => restore.mutate(card)} onFine={() => setCard(null)} />
    ),
  }
}

interface Props {
  name: string
  onRestore: () => void
  onFine: () => void
}

/** Says that something was taken away, and offers to put it back. */
function OffTheShelf({ name, onRestore, onFine }: Props) {
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
