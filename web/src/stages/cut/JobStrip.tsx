import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { memo } from 'react'
import { counted, nounOf } from '../../shared/design/counted'
import { type Sheet, type Sheets, showTime } from '../../shared/design/cutPlan'
import { showCutLength } from '../../shared/design/units'
import { useUnit } from '../../shared/evaluation/store'
import { FindingMark } from '../../shared/fields/FindingMark'
import { type Doing, GO_ON, type Job } from '../../shared/jobs/jobs'
import { jobToTell, useCutting, useJobs, useWatched } from './useJobs'
import { useSheet } from './useSheets'

/** The film running under the knife: how far the cut is, and what can be done about it. */
export const JobStrip = memo(function JobStrip({ sheets }: { sheets: Sheets | undefined }) {
  const { sheet } = useSheet(sheets)
  const job = useWatched(jobToTell(useJobs(), sheet))
  const { ask, busy, problem } = useCutting()
  return (
    <Flex
      as="section"
      aria-label="The cut"
      aria-live="polite"
      direction="column"
      gap="2.5"
      height="strip"
      flexShrink="0"
      px="5"
      py="3"
      bg="card"
      borderTopWidth="1px"
      borderColor="rule"
      data-job={job?.state ?? 'none'}
    >
      <Flex align="center" gap="4" minHeight="10">
        {job ? <Told job={job} /> : sheet && <Before sheet={sheet} />}
        <Flex flex="1" />
        {problem && (
          <Text role="alert" color="knifeDeep" fontWeight="600">
            {problem.message} {problem.todo}
          </Text>
        )}
        {job && <Buttons job={job} busy={busy} onAsk={(doing) => ask({ id: job.id, doing })} />}
      </Flex>
      <Film film={job?.film ?? sheet?.film ?? '#8A9199'} job={job} />
    </Flex>
  )
})

/** What is to come, before the knife goes down. */
function Before({ sheet }: { sheet: Sheet }) {
  const unit = useUnit()
  const cut = showCutLength(sheet.cut_length_mm, unit)
  const way = showCutLength(sheet.way_mm, unit)
  return (
    <Text>
      <Text as="strong" fontSize="xl" mr="1.5">
        {sheet.pieces}
      </Text>
      {nounOf(sheet.pieces, 'piece')}
      {sheet.marks > 0 && ` and ${sheet.marks} marks`} on this sheet
      <Text as="span" color="softInk" ml="3">
        {cut.number} {cut.unit} of cut, {way.number} {way.unit} between, about {showTime(sheet.seconds)}
      </Text>
    </Text>
  )
}

/** How far a job is, in words. */
function Told({ job }: { job: Job }) {
  if (job.state === 'done') return <Ended job={job} />
  const stopped = STOPPED[job.state]
  return (
    <Text>
      <Text as="strong" fontSize="xl" mr="1.5">
        {job.pieces_off}
      </Text>
      of {job.pieces} off
      <Text as="strong" fontSize="xl" ml="3" mr="2">
        {Math.round(job.share * 100)} %
      </Text>
      {stopped ? (
        <Text as="span" fontWeight="600" color="thin">
          {stopped}
        </Text>
      ) : (
        <Text as="span" color="softInk">
          {showTime(job.seconds_left)} to go{job.by_time && ', by its time: this machine says nothing'}
        </Text>
      )}
    </Text>
  )
}

const STOPPED: Partial<Record<Job['state'], string>> = {
  paused: 'Paused. Nothing moves.',
  lost: 'The line to the cutter was lost. What is cut is kept.',
  off: 'The cutter was switched off. What is cut is kept.',
  'no-film': 'The film ran out. Lay in a new piece: the sheet is cut anew.',
  stopped: 'Stopped. What is cut is kept.',
}

function Ended({ job }: { job: Job }) {
  if (!job.outcome) return <Text>Cut. Working out what came off…</Text>
  if (job.outcome.failed) return <Text>Cut. What came off was too much to work out: count the pieces.</Text>
  const { promised, came_off, as_promised, wrong, tears, unseen, foreign } = job.outcome
  if (unseen)
    return (
      <Text>
        Cut. This machine does not tell what it cut: count{' '}
        <Text as="strong" fontSize="xl">
          {promised}
        </Text>{' '}
        {nounOf(promised, 'piece')}.
      </Text>
    )
  return (
    <Flex align="center" gap="2.5" data-outcome={as_promised ? 'kept' : 'broken'}>
      <FindingMark blocks={!as_promised} look={false} />
      <Text>
        Promised{' '}
        <Text as="strong" fontSize="xl">
          {promised}
        </Text>
        , came off{' '}
        <Text as="strong" fontSize="xl">
          {came_off}
        </Text>
        {as_promised ? ', just as they were drawn.' : `. ${wrong.length} not as promised: see the marks.`}
        {foreign > 0 &&
          ` ${counted(foreign, 'cut on this film was', 'cuts on this film were')} not sent by Fulgen.`}
        {tears.length > 0 && (
          <Text as="span" color="thin">
            {` Mind ${counted(tears.length, 'thin place')} when you lift it.`}
          </Text>
        )}
      </Text>
    </Flex>
  )
}

function Buttons({ job, busy, onAsk }: { job: Job; busy: boolean; onAsk: (doing: Doing) => void }) {
  const goOn = GO_ON[job.state]
  return (
    <Flex gap="2" flexShrink="0">
      {job.state === 'cutting' && (
        <Button size="sm" variant="outline" loading={busy} onClick={() => onAsk('pause')}>
          Pause
        </Button>
      )}
      {goOn && (
        <Button size="sm" bg="ink" color="card" loading={busy} onClick={() => onAsk('start')}>
          {goOn}
        </Button>
      )}
      {(job.state === 'cutting' || job.state === 'paused') && (
        <Button size="sm" variant="outline" onClick={() => onAsk('stop')}>
          Stop
        </Button>
      )}
    </Flex>
  )
}

/** The film as a strip: what has gone under the knife, where it stands, and where pieces get free. */
function Film({ film, job }: { film: string; job: Job | undefined }) {
  const share = job ? (job.state === 'done' ? 1 : job.share) : 0
  const at = `${(share * 100).toFixed(2)}%`
  return (
    <Box position="relative" flex="1" minHeight="8" mt="2" aria-hidden="true">
      <Box position="absolute" inset="0" bg={film} opacity="0.2" borderRadius="sm" />
      <Box
        position="absolute"
        top="0"
        bottom="0"
        left="0"
        style={{ width: at }}
        bg={film}
        borderRadius="sm"
      />
      {job?.free_at.slice(0, 200).map((free, n) => (
        <Box
          // biome-ignore lint/suspicious/noArrayIndexKey: pieces have no other name than their place
          key={n}
          position="absolute"
          top="25%"
          bottom="25%"
          style={{ left: `${free * 100}%` }}
          width="2px"
          ml="-2px"
          bg={free <= share + 1e-6 ? 'card' : 'edge'}
        />
      ))}
      {job && (
        <svg
          width="16"
          height="100%"
          style={{
            position: 'absolute',
            top: -12,
            bottom: 0,
            left: `calc(${at} - 8px)`,
            overflow: 'visible',
          }}
        >
          <title>The knife</title>
          <path d="M1 0h14v9l-7 7l-7-7z" fill="var(--chakra-colors-ink)" />
          <path d="M8 14v40" stroke="var(--chakra-colors-knife)" strokeWidth="2.4" />
        </svg>
      )}
    </Box>
  )
}
