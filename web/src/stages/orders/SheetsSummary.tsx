import { Button, Flex, Text } from '@chakra-ui/react'
import { useMutation } from '@tanstack/react-query'
import { useRef } from 'react'
import { answer, api, asProblem } from '../../shared/api/client'
import { nounOf } from '../../shared/design/counted'
import { showTime } from '../../shared/design/cutPlan'
import { showCutLength } from '../../shared/design/units'
import { doTo } from '../../shared/jobs/jobs'
import type { Sheet, Sheets } from './order'
import { Strip } from './Strip'
import { look, useOrderView } from './store'
import { problemOf, useOrder, useOrderId, useSheetsAnew } from './useOrder'

/** How many sheets there are, how much of the film is used, and the next one to cut. */
export function SheetsSummary({ sheets }: { sheets: Sheets }) {
  const { unit } = useOrder()
  const chosen = useOrderView((s) => s.sheet)
  const next =
    sheets.sheets.find(({ number }) => number === chosen) ?? sheets.sheets.find(({ held }) => !held)
  const area = sum(sheets, (s) => s.width_mm * s.height_mm)
  const used = sum(sheets, (s) => s.used * s.width_mm * s.height_mm) / Math.max(area, 1)
  const cut = showCutLength(
    sum(sheets, (s) => s.cut_length_mm),
    unit,
  )
  const { cutSheet, cutElsewhere, busy, problem } = useSendSheet()
  return (
    <Strip label="The sheets together" gap="3">
      <Text>
        <Text as="strong" fontSize="xl" mr="1.5">
          {sheets.sheets.length}
        </Text>
        {nounOf(sheets.sheets.length, 'sheet')}
        {sheets.sheets.length > 0 && (
          <Text as="span" color="softInk" ml="3">
            {Math.round(used * 100)} % of the film used, {cut.number} {cut.unit} of cut, about{' '}
            {showTime(sum(sheets, (s) => s.seconds))}
          </Text>
        )}
      </Text>
      <Flex flex="1" />
      {problem && (
        <Text role="alert" color="knifeDeep" fontWeight="600">
          {problem.message} {problem.todo}
        </Text>
      )}
      {next && (
        <>
          <Button
            size="md"
            variant="outline"
            title="It was cut on a machine that Fulgen does not reach: what lies on it is not laid again"
            loading={busy === 'elsewhere'}
            onClick={() => cutElsewhere(next, sheets.sheets.indexOf(next))}
          >
            {`Sheet ${next.number} was cut elsewhere`}
          </Button>
          <Button
            size="md"
            bg="knife"
            color="card"
            _hover={{ bg: 'knifeDeep' }}
            fontWeight="650"
            loading={busy === 'cut'}
            onClick={() => cutSheet(next, sheets.sheets.indexOf(next))}
          >
            {`Cut sheet ${next.number}`}
          </Button>
        </>
      )}
    </Strip>
  )
}

const sum = (sheets: Sheets, of: (sheet: Sheet) => number) =>
  sheets.sheets.reduce((total, sheet) => total + of(sheet), 0)

/** Sends a sheet to the cutter, or says that it is cut. */
function useSendSheet() {
  const order = useOrderId()
  const anew = useSheetsAnew()
  // Asked twice for the same sheet, it is one job.
  const asked = useRef(new Map<string, string>())
  const sending = useMutation({
    mutationFn: async ({ key, index, elsewhere }: { key: string; index: number; elsewhere: boolean }) => {
      if (elsewhere) {
        await answer(api.POST('/api/orders/cut-elsewhere', { body: { order, sheet: index, key } }))
        return
      }
      const job = asked.current.get(key) ?? crypto.randomUUID()
      asked.current.set(key, job)
      const { id } = await answer(api.POST('/api/orders/job', { body: { order, sheet: index, key, job } }))
      asked.current.delete(key)
      look({ sheet: null })
      // The job is there now: where the cutter is not, it is begun from the list below.
      await doTo(id, 'start')
    },
    onSettled: anew,
  })
  const send = (sheet: Sheet, index: number, elsewhere: boolean) =>
    sending.mutate({ key: sheet.key, index, elsewhere })
  return {
    cutSheet: (sheet: Sheet, index: number) => send(sheet, index, false),
    cutElsewhere: (sheet: Sheet, index: number) => send(sheet, index, true),
    busy: sending.isPending ? (sending.variables.elsewhere ? 'elsewhere' : 'cut') : null,
    problem: sending.error ? asProblem(sending.error) : problemOf(null),
  }
}
