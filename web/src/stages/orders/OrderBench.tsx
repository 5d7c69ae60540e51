import { Button, Center, Flex, Spinner, Text } from '@chakra-ui/react'
import { useEffect } from 'react'
import { Link } from 'react-router'
import { Brand } from '../../shared/fields/Brand'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { NamesView } from './NamesView'
import { OrderBar } from './OrderBar'
import { PickList } from './PickList'
import { SheetsView } from './SheetsView'
import { lookAnew, useOrderView } from './store'
import { problemOf, useOrderId, useOrderQuery } from './useOrder'

/** An order: its names, its sheets and its pick list. */
export function OrderBench() {
  const id = useOrderId()
  const order = useOrderQuery()
  const view = useOrderView((s) => s.view)
  // biome-ignore lint/correctness/useExhaustiveDependencies: another order is looked at anew
  useEffect(lookAnew, [id])
  const problem = problemOf(order.error ?? order.failureReason)
  if (problem && !order.data)
    return (
      <Flex direction="column" p="6" gap="6" maxWidth="560px">
        <Brand />
        <ProblemNote
          what={problem.message}
          todo={problem.away ? 'It is opened as soon as the server is back.' : problem.todo}
        >
          <Button asChild size="sm" variant="outline" mt="3">
            <Link to="/orders">To the orders</Link>
          </Button>
        </ProblemNote>
      </Flex>
    )
  if (!order.data)
    return (
      <Center height="full" gap="3" color="softInk">
        <Spinner /> <Text>Opening the order…</Text>
      </Center>
    )
  return (
    <Flex direction="column" height="full">
      <OrderBar />
      <Flex flex="1" minHeight="0">
        {view === 'names' && <NamesView />}
        {view === 'sheets' && <SheetsView />}
        {view === 'picks' && <PickList />}
      </Flex>
    </Flex>
  )
}
