import { Box, Flex } from '@chakra-ui/react'
import { Panel } from '../../shared/fields/Panel'
import { AboutOrder } from './AboutOrder'
import { AddNames } from './AddNames'
import { GiveWayFields } from './GiveWayFields'
import { RowBar } from './RowBar'
import { RowGrid } from './RowGrid'
import { RowSection } from './RowSection'
import { Summary } from './Summary'
import { useOrderView } from './store'
import { useRows } from './useOrder'

/** All names as they will be cut, with what is asked for once. */
export function NamesView() {
  const { rows } = useRows()
  const chosen = useOrderView((s) => s.row)
  const row = rows.find(({ number }) => number === chosen)
  return (
    <>
      <Panel name="Names">
        <Box overflowY="auto" flex="1" minHeight="0">
          {row && <RowSection key={row.number} row={row} />}
          <AddNames />
          <GiveWayFields />
          <AboutOrder />
        </Box>
      </Panel>
      <Flex direction="column" flex="1" minWidth="0">
        <RowBar />
        <RowGrid />
        <Summary />
      </Flex>
    </>
  )
}
