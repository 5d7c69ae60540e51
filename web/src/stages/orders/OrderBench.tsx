import { Center, Flex, Spinner, Text } from '@chakra-ui/react'
import { useEffect } from 'react'
import { NotOpened } from '../../shared/notes/NotOpened'
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
  if (problem && !order.data) return <NotOpened problem={problem} to="/orders" label="To the orders" />
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
