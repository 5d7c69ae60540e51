import { Button, Flex, Text } from '@chakra-ui/react'
import { useMutation } from '@tanstack/react-query'
import { counted } from '../../shared/design/counted'
import { FindingMark } from '../../shared/fields/FindingMark'
import { Section } from '../../shared/fields/Panel'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { type Doing, doTo, GO_ON, STATE_WORDS } from '../../shared/jobs/jobs'
import type { CutSheet, Sheets } from './order'
import { problemOf, useSheetsAnew } from './useOrder'

/** The sheets that were sent to the cutter: how far each is, and whether what came off is what was promised. */
export function CutSheets({ sheets }: { sheets: Sheets | undefined }) {
  const anew = useSheetsAnew()
  const doing = useMutation({
    mutationFn: ({ id, what }: { id: string; what: Doing }) => doTo(id, what),
    onSettled: anew,
  })
  if (!sheets || sheets.cut.length === 0) return null
  const problem = problemOf(doing.error)
  return (
    <Section title="Sheets that were cut">
      <Flex as="ul" direction="column" gap="3" listStyleType="none" aria-label="Sheets that were cut">
        {sheets.cut.map((sheet) => (
          <Flex
            as="li"
            key={sheet.number}
            direction="column"
            gap="1.5"
            data-cut={sheet.job?.state ?? 'elsewhere'}
          >
            <Flex gap="2" align="center">
              <FindingMark {...markOf(sheet)} />
              <Text fontWeight="600">
                Sheet {sheet.number}, {sheet.film_name}
              </Text>
            </Flex>
            <Text fontSize="sm" color="softInk">
              {toldOf(sheet)}
            </Text>
            {sheet.job && (
              <Actions
                state={sheet.job.state}
                name={`sheet ${sheet.number}`}
                busy={doing.isPending}
                onDo={(what) => sheet.job && doing.mutate({ id: sheet.job.id, what })}
              />
            )}
          </Flex>
        ))}
      </Flex>
      {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
    </Section>
  )
}

function markOf({ job, rows }: CutSheet) {
  const broken = rows.some(({ not_as_promised }) => not_as_promised > 0)
  return { blocks: broken, look: job !== null && job.state !== 'done' }
}

function toldOf(sheet: CutSheet): string {
  const { job, rows, copies } = sheet
  const what = counted(copies, 'copy', 'copies')
  if (!job) return `${what}, cut elsewhere`
  if (job.state !== 'done') return `${what}, ${STATE_WORDS[job.state]} at ${Math.round(job.share * 100)} %`
  if (!job.outcome) return `${what}, cut. Working out what came off…`
  if (job.outcome.unseen) return `${what}, cut. This machine does not tell what came off.`
  const broken = rows.filter(({ not_as_promised }) => not_as_promised > 0)
  const off = `${job.outcome.came_off} of ${counted(job.outcome.promised, 'piece')} came off`
  if (broken.length === 0) return `${what}, ${off} as promised`
  return `${what}, ${off}. Look at ${broken.map(({ row }) => `row ${row}`).join(', ')}.`
}

interface ActionsProps {
  state: NonNullable<CutSheet['job']>['state']
  name: string
  busy: boolean
  onDo: (what: Doing) => void
}

function Actions({ state, name, busy, onDo }: ActionsProps) {
  const goOn = GO_ON[state]
  if (!goOn && state !== 'cutting') return null
  return (
    <Flex gap="2">
      {goOn && (
        <Button
          size="xs"
          variant="outline"
          loading={busy}
          aria-label={`${goOn}: ${name}`}
          onClick={() => onDo('start')}
        >
          {goOn}
        </Button>
      )}
      {state === 'cutting' && (
        <Button size="xs" variant="outline" aria-label={`Pause ${name}`} onClick={() => onDo('pause')}>
          Pause
        </Button>
      )}
      {(state === 'cutting' || state === 'paused') && (
        <Button size="xs" variant="outline" aria-label={`Stop ${name}`} onClick={() => onDo('stop')}>
          Stop
        </Button>
      )}
    </Flex>
  )
}
