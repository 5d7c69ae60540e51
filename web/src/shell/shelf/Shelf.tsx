import { Box, Button, Flex, Grid, Heading, Input, Skeleton, Text } from '@chakra-ui/react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Frame, Plus, Search } from 'lucide-react'
import { useEffect, useState } from 'react'
import { useNavigate } from 'react-router'
import { answer, api, asProblem, type Schemas } from '../../shared/api/client'
import { counted } from '../../shared/design/counted'
import { beginning } from '../../shared/design/rememberedChoices'
import { Choice } from '../../shared/fields/Choice'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { DesignCard } from './DesignCard'
import { type Card, found, ORDERS, type Order, tagsOf } from './find'
import { useOffTheShelf } from './OffTheShelf'
import { OpenFile } from './OpenFile'
import { ShelfBar } from './ShelfBar'

/** What a new design begins with. */
type Start = 'words' | 'frame'

/** Cards are drawn after their designs were saved: so soon it is looked again. */
const DRAWING_MS = 700

/** All designs, newest change first. */
export function Shelf() {
  const navigate = useNavigate()
  const queries = useQueryClient()
  const shelf = useQuery({
    queryKey: ['shelf'],
    queryFn: () => answer(api.GET('/api/designs')),
    staleTime: 0,
    refetchInterval: ({ state }) => (state.data?.some((card) => !card.drawn) ? DRAWING_MS : false),
  })
  const refresh = () => queries.invalidateQueries({ queryKey: ['shelf'] })

  useEffect(() => {
    document.title = 'Fulgen'
  }, [])

  const make = useMutation({
    mutationFn: (_: Start) =>
      answer(
        api.POST('/api/designs', {
          body: { name: '', recipe: beginning() } as Schemas['NewDesign'],
        }),
      ),
    onSuccess: (design, start) => navigate(`/design/${design.id}`, { state: { start } }),
  })
  const copy = useMutation({
    mutationFn: (card: Card) =>
      answer(api.POST('/api/designs/{design_id}/copy', { params: { path: { design_id: card.id } } })),
    onSuccess: refresh,
  })
  const taken = useOffTheShelf('shelf', {
    remove: (id) => answer(api.DELETE('/api/designs/{design_id}', { params: { path: { design_id: id } } })),
    restore: (id) =>
      answer(api.POST('/api/designs/{design_id}/restore', { params: { path: { design_id: id } } })),
  })
  const rename = useMutation({
    mutationFn: async ({ card, name }: { card: Card; name: string }) => {
      const path = { design_id: card.id }
      const design = await answer(api.GET('/api/designs/{design_id}', { params: { path } }))
      const body = { name, recipe: design.recipe, based_on: design.revision, window: '', edit: 0 }
      return answer(api.PUT('/api/designs/{design_id}', { params: { path }, body }))
    },
    onSettled: refresh,
  })

  const tag = useMutation({
    mutationFn: ({ card, tags }: { card: Card; tags: string[] }) => {
      const path = { design_id: card.id }
      return answer(api.PUT('/api/designs/{design_id}/tags', { params: { path }, body: { tags } }))
    },
    onSettled: refresh,
  })

  const makeOrder = useMutation({
    mutationFn: (card: Card) => answer(api.POST('/api/orders', { body: { design: card.id } })),
    onSuccess: (order) => navigate(`/order/${order.id}`),
  })

  const [typed, setTyped] = useState('')
  const [chosenTag, chooseTag] = useState<string | null>(null)
  const [order, setOrder] = useState<Order>('changed')
  const cards = shelf.data ?? []
  const tags = tagsOf(cards)
  const wantedTag = chosenTag !== null && tags.includes(chosenTag) ? chosenTag : null
  const shown = found(cards, typed, wantedTag, order)

  const trouble =
    make.error ??
    copy.error ??
    taken.error ??
    rename.error ??
    tag.error ??
    makeOrder.error ??
    shelf.error ??
    shelf.failureReason
  return (
    <Box height="full" overflowY="auto">
      <ShelfBar />
      <Box as="main" maxWidth="1240px" mx="auto" px="8" pt="8" pb="24">
        <Flex justify="space-between" align="end" mb="6">
          <Box>
            <Heading as="h1" fontSize="30px" fontWeight="750" letterSpacing="-0.02em" lineHeight="1.2">
              The shelf
            </Heading>
            <Text color="softInk" mt="1">
              {shelf.data ? counted(shelf.data.length, 'design') : 'Fetching your designs…'}
            </Text>
          </Box>
          <Flex gap="3">
            <OpenFile />
            <Button
              size="lg"
              variant="outline"
              bg="card"
              fontWeight="650"
              disabled={make.isPending}
              onClick={() => make.mutate('frame')}
            >
              <Frame size={18} />
              New name in a frame
            </Button>
            <Button
              bg="knife"
              color="card"
              _hover={{ bg: 'knifeDeep' }}
              size="lg"
              fontWeight="650"
              loading={make.isPending}
              onClick={() => make.mutate('words')}
            >
              <Plus size={19} />
              New lettering
            </Button>
          </Flex>
        </Flex>
        {cards.length > 0 && (
          <Flex mb="6" gap="3" wrap="wrap" align="center">
            <Box position="relative" width="320px">
              <Input
                aria-label="Search the shelf"
                placeholder="Name, words, face or tag"
                value={typed}
                onChange={(e) => setTyped(e.target.value)}
                pl="9"
                bg="card"
                borderColor="edge"
                spellCheck={false}
              />
              <Box position="absolute" left="3" top="2.5" color="softInk" pointerEvents="none">
                <Search size={18} />
              </Box>
            </Box>
            <Box width="170px">
              <Choice label="Order of the shelf" value={order} options={ORDERS} onChange={setOrder} />
            </Box>
            {tags.length > 0 && (
              <Flex gap="1.5" wrap="wrap" role="group" aria-label="Tags">
                {tags.map((name) => (
                  <Button
                    key={name}
                    size="sm"
                    borderRadius="full"
                    variant="outline"
                    aria-pressed={name === wantedTag}
                    bg={name === wantedTag ? 'ink' : 'card'}
                    color={name === wantedTag ? 'card' : 'ink'}
                    onClick={() => chooseTag(name === wantedTag ? null : name)}
                  >
                    {name}
                  </Button>
                ))}
              </Flex>
            )}
          </Flex>
        )}
        {trouble && (
          <Box mb="6" maxWidth="620px">
            <ProblemNote what={asProblem(trouble).message} todo={asProblem(trouble).todo} />
          </Box>
        )}
        <Grid
          templateColumns="repeat(auto-fill, minmax(340px, 1fr))"
          gap="5"
          aria-label="Designs"
          role="list"
        >
          {!shelf.data &&
            !trouble &&
            [1, 2, 3].map((n) => <Skeleton key={n} height="262px" borderRadius="lg" />)}
          {shown.map((card) => (
            <DesignCard
              key={card.id}
              card={card}
              onCopy={() => copy.mutate(card)}
              onOrder={() => makeOrder.mutate(card)}
              onDelete={() => taken.remove(card)}
              onRename={(name) => rename.mutate({ card, name })}
              onTag={(tags) => tag.mutate({ card, tags })}
            />
          ))}
        </Grid>
        {cards.length > 0 && shown.length === 0 && (
          <Text fontSize="lg" color="softInk" mt="10">
            {`No design is like that${wantedTag ? ` with the tag “${wantedTag}”` : ''}. Type less, or clear the field.`}
          </Text>
        )}
        {shelf.data?.length === 0 && (
          <Text fontSize="lg" color="softInk" mt="10">
            Nothing here yet. Start with “New lettering” and type a name.
          </Text>
        )}
      </Box>
      {taken.note}
    </Box>
  )
}
