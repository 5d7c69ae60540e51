import { Box, Flex, Spinner, Text } from '@chakra-ui/react'
import { Panel } from '../../shared/fields/Panel'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { isMoving } from '../../shared/jobs/jobs'
import { CutSheets } from './CutSheets'
import { OrderFiles } from './OrderFiles'
import type { Sheets } from './order'
import { SheetCard } from './SheetCard'
import { SheetFields } from './SheetFields'
import { SheetsSummary } from './SheetsSummary'
import { useOrderView } from './store'
import { useOrderSheets, useRows } from './useOrder'

const anyMoving = (sheets: Sheets) => sheets.cut.some(({ job }) => job !== null && isMoving(job))

/** All rows on their sheets, what is asked of these, and the way to the cutter. */
export function SheetsView() {
  const { working } = useRows()
  const { sheets, waiting, problem } = useOrderSheets(anyMoving)
  return (
    <>
      <Panel name="Sheets">
        <Box overflowY="auto" flex="1" minHeight="0">
          <CutSheets sheets={sheets} />
          <SheetFields sheets={sheets} />
          <OrderFiles sheets={sheets} />
        </Box>
      </Panel>
      <Flex direction="column" flex="1" minWidth="0">
        <Box flex="1" minHeight="0" overflowY="auto" p="5" data-testid="order-sheets">
          {(working || (waiting && !sheets)) && (
            <Flex align="center" gap="3" color="softInk">
              <Spinner size="sm" />
              <Text>
                {working ? 'Rows are worked out first. The sheets follow by themselves.' : 'Laying the rows…'}
              </Text>
            </Flex>
          )}
          {problem && problem.kind !== 'rows-waiting' && (
            <Box maxWidth="560px" mb="4">
              <ProblemNote what={problem.message} todo={problem.todo} />
            </Box>
          )}
          {sheets && (
            <Box opacity={waiting ? 0.5 : 1} data-stale={waiting}>
              <Laid sheets={sheets} />
            </Box>
          )}
        </Box>
        {sheets && <SheetsSummary sheets={sheets} />}
      </Flex>
    </>
  )
}

function Laid({ sheets }: { sheets: Sheets }) {
  const chosen = useOrderView((s) => s.sheet)
  const one = sheets.sheets.find(({ number }) => number === chosen)
  if (sheets.sheets.length === 0)
    return (
      <Text fontSize="xl" color="softInk">
        {sheets.cut.length > 0
          ? 'All rows lie on sheets that were sent to the cutter.'
          : 'There is no row that can be cut yet.'}
      </Text>
    )
  return (
    <Flex gap="6" wrap="wrap" align="flex-start" role="list" aria-label="Sheets to cut">
      {(one ? [one] : sheets.sheets).map((sheet) => (
        <SheetCard
          key={sheet.number}
          sheets={sheets}
          sheet={sheet}
          large={one !== undefined || sheets.sheets.length === 1}
        />
      ))}
    </Flex>
  )
}
