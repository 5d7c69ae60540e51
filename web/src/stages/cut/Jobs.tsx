import { Button, Flex, Text } from '@chakra-ui/react'
import { Section } from '../../shared/fields/Panel'
import { STATE_WORDS } from '../../shared/jobs/jobs'
import { useCutting, useJobs } from './useJobs'

const SHOWN = 8

/** What was sent to the cutter, newest first; what is not done can be taken up again, also after a change of the
 * design: it is cut as it was begun. */
export function Jobs() {
  const jobs = useJobs().slice(0, SHOWN)
  const { ask } = useCutting()
  if (jobs.length === 0) return null
  return (
    <Section title="Jobs">
      <Flex as="ul" direction="column" gap="2" listStyleType="none" aria-label="Jobs">
        {jobs.map((job) => (
          <Flex as="li" key={job.id} justify="space-between" align="center" gap="2" data-kept={job.state}>
            <Text fontSize="sm">
              {job.title}
              <Text as="span" color="softInk">
                {', '}
                {STATE_WORDS[job.state]}
                {job.state !== 'done' && ` at ${Math.round(job.share * 100)} %`}
                {job.outcome &&
                  !job.outcome.failed &&
                  `: ${job.outcome.came_off} of ${job.outcome.promised} came off`}
              </Text>
              {job.noted.map((what) => (
                <Text as="span" key={what} display="block" color="softInk">
                  {`Cut all the same: ${what}`}
                </Text>
              ))}
            </Text>
            {job.state !== 'done' && job.state !== 'cutting' && (
              <Button
                size="xs"
                variant="outline"
                flexShrink="0"
                aria-label={`Go on with ${job.title}`}
                onClick={() => ask({ id: job.id, doing: 'start' })}
              >
                Go on
              </Button>
            )}
          </Flex>
        ))}
      </Flex>
    </Section>
  )
}
