import { Box, chakra, Flex, Grid, Heading, Skeleton, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { Trash2 } from 'lucide-react'
import { useEffect } from 'react'
import { Link } from 'react-router'
import { answer, api, asProblem, type Schemas } from '../../shared/api/client'
import { counted } from '../../shared/design/counted'
import { IconTool } from '../../shared/fields/IconTool'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { CardBox } from './CardBox'
import { useOffTheShelf } from './OffTheShelf'
import { ShelfBar } from './ShelfBar'

type Card = Schemas['OrderCard']

const STAGES: Record<Card['stage'], string> = {
  draft: 'Draft',
  proof: 'Proof is out',
  approved: 'Approved',
  cutting: 'On the cutter',
  done: 'Done',
}

const DAY = new Intl.DateTimeFormat(undefined, { dateStyle: 'medium' })
const OrderLink = chakra(Link)

/** All orders, newest change first. */
export function Orders() {
  const orders = useQuery({
    queryKey: ['orders'],
    queryFn: () => answer(api.GET('/api/orders')),
    staleTime: 0,
    refetchInterval: ({ state }) => (state.data?.some(({ counts }) => counts.waiting > 0) ? 1_000 : false),
  })
  const taken = useOffTheShelf('orders', {
    remove: (id) => answer(api.DELETE('/api/orders/{order_id}', { params: { path: { order_id: id } } })),
    restore: (id) =>
      answer(api.POST('/api/orders/{order_id}/restore', { params: { path: { order_id: id } } })),
  })
  useEffect(() => {
    document.title = 'Orders – Fulgen'
  }, [])
  const trouble = taken.error ?? orders.error ?? orders.failureReason
  return (
    <Box height="full" overflowY="auto">
      <ShelfBar />
      <Box as="main" maxWidth="1240px" mx="auto" px="8" pt="8" pb="24">
        <Heading as="h1" fontSize="30px" fontWeight="750" letterSpacing="-0.02em" lineHeight="1.2">
          Orders
        </Heading>
        <Text color="softInk" mt="1" mb="6">
          {orders.data ? counted(orders.data.length, 'order') : 'Fetching your orders…'}
        </Text>
        {trouble && (
          <Box mb="6" maxWidth="620px">
            <ProblemNote what={asProblem(trouble).message} todo={asProblem(trouble).todo} />
          </Box>
        )}
        <Grid templateColumns="repeat(auto-fill, minmax(380px, 1fr))" gap="5" role="list" aria-label="Orders">
          {!orders.data &&
            !trouble &&
            [1, 2].map((n) => <Skeleton key={n} height="230px" borderRadius="lg" />)}
          {orders.data?.map((card) => (
            <OrderOnShelf key={card.id} card={card} onDelete={() => taken.remove(card)} />
          ))}
        </Grid>
        {orders.data?.length === 0 && (
          <Text fontSize="lg" color="softInk" mt="6" maxWidth="560px">
            Nothing is ordered yet. Go to a design and choose “Make an order of it”: a list of names becomes
            cut sheets.
          </Text>
        )}
      </Box>
      {taken.note}
    </Box>
  )
}

/** An order: a few of its rows, for whom it is, and how far. */
function OrderOnShelf({ card, onDelete }: { card: Card; onDelete: () => void }) {
  const { counts } = card
  const about = [card.customer, card.due && `by ${DAY.format(new Date(card.due))}`].filter(Boolean).join(', ')
  return (
    <CardBox name={card.name}>
      <OrderLink to={`/order/${card.id}`} aria-label={`Open ${card.name}`} display="block">
        <Flex height="132px" bg="paper" px="6" py="5" gap="4" align="center" justify="center">
          {card.pictures.map((picture) => (
            <chakra.img
              key={picture}
              src={picture}
              alt=""
              height="full"
              minWidth="0"
              flex="1"
              objectFit="contain"
            />
          ))}
          {card.pictures.length === 0 && <Text color="softInk">No names yet</Text>}
        </Flex>
      </OrderLink>
      <Flex pl="4" pr="2" py="3" gap="2" align="end">
        <Box flex="1" minWidth="0">
          <OrderLink
            to={`/order/${card.id}`}
            tabIndex={-1}
            fontWeight="650"
            fontSize="lg"
            display="block"
            truncate
          >
            {card.name}
          </OrderLink>
          <Text color="softInk" fontSize="sm" truncate>
            {`${counted(counts.rows, 'row')}${about ? `, ${about}` : ''}`}
          </Text>
          <Text fontSize="sm" fontWeight="600">
            {STAGES[card.stage]}
            {counts.cannot_be_made > 0 && (
              <Text as="span" color="knifeDeep">{`, ${counts.cannot_be_made} cannot be made`}</Text>
            )}
            {card.sheets_cut > 0 && (
              <Text as="span" fontWeight="450" color="softInk">
                {`, ${counted(card.sheets_cut, 'sheet')} cut`}
              </Text>
            )}
          </Text>
        </Box>
        <IconTool
          name={`Delete ${card.name}`}
          size="xs"
          variant="ghost"
          color="softInk"
          _hover={{ bg: 'paper', color: 'ink' }}
          onClick={onDelete}
        >
          <Trash2 size={15} />
        </IconTool>
      </Flex>
    </CardBox>
  )
}
