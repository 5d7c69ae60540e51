import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useMutation } from '@tanstack/react-query'
import { memo } from 'react'
import { asProblem } from '../../shared/api/client'
import { giveFilm } from '../../shared/design/films'
import { thickenUntil } from '../../shared/design/thicken'
import { type Findings, useEvaluations, useFindings, useUnit } from '../../shared/evaluation/store'
import { FindingMark } from '../../shared/fields/FindingMark'
import { Panel, Section } from '../../shared/fields/Panel'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { Notes, type Troubles } from '../../shared/notes/Notes'
import { useIsReadyTold } from '../../shared/ready/ready'
import { FindingList } from './FindingList'
import { tally } from './findings'
import { LimitFields, MaterialField } from './Materials'
import { ReadySection } from './ReadySection'
import { TouchUpSection } from './TouchUpSection'

/** The Check stage: what would go wrong on the material, and how to repair it. */
export const CheckPanel = memo(function CheckPanel(troubles: Troubles) {
  const findings = useFindings()
  const unit = useUnit()
  // What would be done about it stands above the list, and comes last: the list waits, so that nothing moves
  // away under the hand.
  const list = useIsReadyTold() ? findings : undefined
  return (
    <Panel name="Check">
      <Box overflowY="auto" flex="1" minHeight="0">
        <Notes {...troubles} />
        <Section title="Before the cut">
          <Verdict findings={findings} />
          <MaterialField />
        </Section>
        {findings && <AlikeFilms findings={findings} />}
        <ReadySection />
        {list && <FindingList findings={list} />}
        {list && <ThickenAll findings={list} />}
        <TouchUpSection unit={unit} />
        {list && <LimitFields findings={list} unit={unit} />}
      </Box>
    </Panel>
  )
})

function Verdict({ findings }: { findings: Findings | undefined }) {
  const unchecked = useEvaluations((s) => (s.troubles.length === 0 ? s.unchecked : null))
  if (unchecked)
    return <ProblemNote what={`It could not be checked. ${unchecked.message}`} todo={unchecked.todo} />
  if (!findings) return <Text color="softInk">Nothing to check yet.</Text>
  const { repair, look, known } = tally(findings)
  return (
    <Box data-testid="verdict">
      <Flex align="center" gap="2">
        <FindingMark blocks={repair > 0} look={look > 0} />
        <Text fontWeight="650" fontSize="lg">
          {repair > 0 ? `${repair} to repair` : 'Clear to cut'}
        </Text>
      </Flex>
      <Text color="softInk" fontSize="sm">
        {[look > 0 && `${look} to look at`, known > 0 && `${known} accepted`].filter(Boolean).join(', ')}
      </Text>
    </Box>
  )
}

/** Films that look alike: one may be meant. */
function AlikeFilms({ findings }: { findings: Findings }) {
  return findings.alike.map(({ one, other, one_name, other_name }) => (
    <Section key={one + other} title="Two films that look alike">
      <Text fontSize="sm">{`${one_name} ${one} and ${other_name} ${other} are cut as two films.`}</Text>
      <Flex gap="2" wrap="wrap">
        {[
          { to: one, from: other },
          { to: other, from: one },
        ].map(({ to, from }) => (
          <Button key={to} size="sm" variant="outline" onClick={() => giveFilm(from, to)}>
            <Box bg={to} boxSize="4" borderRadius="full" />
            {`Both ${to}`}
          </Button>
        ))}
      </Flex>
    </Section>
  ))
}

/** Where many strokes and joints are thin, one remedy for all of them. */
function ThickenAll({ findings }: { findings: Findings }) {
  const open = findings.findings.filter((f) => !f.accepted)
  const thin = open.filter((f) => f.kind === 'hairline' || f.kind === 'neck')
  const part = open.find((f) => f.kind === 'hairline')?.part
  const mutation = useMutation({
    mutationFn: (partId: string) => thickenUntil(partId, Math.max(0.05, findings.wide_enough_mm)),
  })
  const problem = mutation.error ? asProblem(mutation.error) : null
  if (thin.length < 3 || !part) return null
  return (
    <Section title="All edges alike">
      <Button size="sm" variant="outline" loading={mutation.isPending} onClick={() => mutation.mutate(part)}>
        Thicken all the lettering
      </Button>
      <Text fontSize="sm" color="softInk">
        {thin.length} strokes and joints are thin: all edges go outwards until the thinnest stroke holds.
      </Text>
      {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
    </Section>
  )
}
