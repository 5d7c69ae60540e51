import { Box, Button, Center, Flex, Table, Text } from '@chakra-ui/react'
import { useMutation } from '@tanstack/react-query'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useMemo, useRef } from 'react'
import { api } from '../../shared/api/client'
import { download } from '../../shared/api/download'
import { type Row, type Sheets, told, wordsOf } from './order'
import { RowMark } from './RowMark'
import { problemOf, useOrder, useOrderId, useOrderSheets, useRows } from './useOrder'

const LINE = 36

interface Pick {
  row: Row
  sheet: number | null
  film: string
  cut: 'cut' | 'at the cutter' | 'not cut yet' | 'on no sheet'
  wrong: boolean
}

/** Each row with the sheets that its copies lie on. */
export function picksOf(rows: readonly Row[], sheets: Sheets | undefined): Pick[] {
  const places = new Map<number, Omit<Pick, 'row'>[]>()
  const put = (row: number, place: Omit<Pick, 'row'>) => places.set(row, [...(places.get(row) ?? []), place])
  for (const sheet of sheets?.cut ?? [])
    for (const { row, not_as_promised } of sheet.rows)
      put(row, {
        sheet: sheet.number,
        film: sheet.film_name,
        cut: sheet.job === null || sheet.job.state === 'done' ? 'cut' : 'at the cutter',
        wrong: not_as_promised > 0,
      })
  for (const sheet of sheets?.sheets ?? [])
    for (const row of new Set(sheet.laid.map((laid) => laid.row)))
      put(row, { sheet: sheet.number, film: sheet.film_name, cut: 'not cut yet', wrong: false })
  return rows.flatMap((row) =>
    (places.get(row.number) ?? [{ sheet: null, film: '', cut: 'on no sheet' as const, wrong: false }]).map(
      (place) => ({ row, ...place }),
    ),
  )
}

/** The list by which rows are picked from their sheets. */
export function PickList() {
  const order = useOrderId()
  const { unit } = useOrder()
  const { rows } = useRows()
  const { sheets, problem } = useOrderSheets()
  const picks = useMemo(() => picksOf(rows, sheets), [rows, sheets])
  const ground = useRef<HTMLDivElement>(null)
  const lines = useVirtualizer({
    count: picks.length,
    getScrollElement: () => ground.current,
    estimateSize: () => LINE,
    overscan: 12,
  })
  const saving = useMutation({
    mutationFn: (to: 'csv' | 'pdf') =>
      download(api.POST('/api/orders/pick-list', { body: { order, to }, parseAs: 'blob' })),
  })
  const wrong = problemOf(saving.error) ?? problem
  if (rows.length === 0)
    return (
      <Center flex="1">
        <Text fontSize="xl" color="softInk">
          There are no names yet.
        </Text>
      </Center>
    )
  const items = lines.getVirtualItems()
  const before = items[0]?.start ?? 0
  const after = lines.getTotalSize() - (items.at(-1)?.end ?? 0)
  return (
    <Flex direction="column" flex="1" minWidth="0" bg="card">
      <Flex px="6" py="3" gap="3" align="center" borderBottomWidth="1px" borderColor="rule">
        <Text as="h1" fontSize="xl" fontWeight="700" flex="1">
          Pick list
        </Text>
        {wrong && (
          <Text role="alert" color="knifeDeep" fontWeight="600">
            {wrong.message} {wrong.todo}
          </Text>
        )}
        {(['pdf', 'csv'] as const).map((to) => (
          <Button
            key={to}
            size="sm"
            variant="outline"
            loading={saving.isPending && saving.variables === to}
            onClick={() => saving.mutate(to)}
          >
            {`Pick list as ${to.toUpperCase()}`}
          </Button>
        ))}
      </Flex>
      <Box ref={ground} bg="card" overflowY="auto" flex="1" minHeight="0" px="6" pb="6">
        <Table.Root size="sm" aria-label="Pick list" tableLayout="fixed" aria-rowcount={picks.length + 1}>
          <Table.Header>
            <Table.Row bg="card">
              {HEADINGS.map(([name, width]) => (
                <Table.ColumnHeader key={name} width={width} position="sticky" top="0" bg="card">
                  {name}
                </Table.ColumnHeader>
              ))}
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {before > 0 && <tr style={{ height: before }} />}
            {items.map(({ index }) => {
              const pick = picks[index]
              if (!pick) return null
              return (
                <Table.Row key={`${pick.row.number} ${pick.sheet ?? ''}`} bg="card" height={`${LINE}px`}>
                  <Table.Cell fontVariantNumeric="tabular-nums">{pick.row.number}</Table.Cell>
                  <Table.Cell fontWeight="600" truncate>
                    {wordsOf(pick.row)}
                  </Table.Cell>
                  <Table.Cell>{pick.sheet === null ? '' : `sheet ${pick.sheet}`}</Table.Cell>
                  <Table.Cell>{pick.film}</Table.Cell>
                  <Table.Cell color={pick.wrong ? 'knifeDeep' : 'ink'}>
                    {pick.wrong ? 'not as promised' : pick.cut}
                  </Table.Cell>
                  <Table.Cell truncate>
                    <Flex gap="2" align="center">
                      <RowMark row={pick.row} />
                      <Text truncate color="softInk">
                        {told(pick.row, unit)}
                      </Text>
                    </Flex>
                  </Table.Cell>
                </Table.Row>
              )
            })}
            {after > 0 && <tr style={{ height: after }} />}
          </Table.Body>
        </Table.Root>
      </Box>
    </Flex>
  )
}

const HEADINGS = [
  ['Row', '64px'],
  ['Words', '24%'],
  ['Sheet', '100px'],
  ['Film', '110px'],
  ['Cut', '130px'],
  ['What is to be known', 'auto'],
] as const
