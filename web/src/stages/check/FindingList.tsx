import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useMutation } from '@tanstack/react-query'
import { type ReactNode, useEffect, useState } from 'react'
import { answer, api, asProblem } from '../../shared/api/client'
import { withKeptIds } from '../../shared/design/letters'
import { MOST_ACCEPTED_FINDINGS, type Recipe } from '../../shared/design/recipe'
import { editRecipeOnce, useDesign } from '../../shared/design/store'
import type { Findings } from '../../shared/evaluation/store'
import { FindingMark } from '../../shared/fields/FindingMark'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { take } from '../../shared/ready/ready'
import { useView } from '../../shared/view/view'
import {
  type Alike,
  alike,
  around,
  chooseFinding,
  type Finding,
  findingKey,
  said,
  useChosenFinding,
} from './findings'
import { useRemedy } from './useRemedy'

/** All that the check has found, what is alike in one row. */
export function FindingList({ findings }: { findings: Findings }) {
  const chosen = useChosenFinding()
  const keys = findings.findings.map(findingKey)
  const gone = chosen !== null && !keys.includes(chosen)
  useEffect(() => {
    if (gone) chooseFinding(null)
  }, [gone])
  if (findings.findings.length === 0) return null
  return (
    <Flex as="ol" direction="column" borderBottomWidth="1px" borderColor="rule" aria-label="Findings">
      {alike(findings.findings).map((row) =>
        row.findings.length === 1 ? (
          <Card key={`${row.kind} ${row.accepted}`} finding={row.findings[0] as Finding} chosen={chosen} />
        ) : (
          <Row key={`${row.kind} ${row.accepted}`} row={row} chosen={chosen} />
        ),
      )}
    </Flex>
  )
}

interface LineProps {
  of: Finding
  open: boolean
  onClick: () => void
  children: ReactNode
}

/** The head of a row: how it stands, and what is said. */
function Line({ of: { blocks, accepted }, open, onClick, children }: LineProps) {
  return (
    <Button
      variant="plain"
      onClick={onClick}
      aria-expanded={open}
      width="full"
      height="auto"
      justifyContent="start"
      alignItems="start"
      textAlign="left"
      whiteSpace="normal"
      gap="2.5"
      px="4"
      py="2.5"
      borderRadius="0"
      fontWeight="450"
    >
      <Box pt="0.5" flexShrink="0">
        <FindingMark blocks={blocks && !accepted} look={!accepted} />
      </Box>
      <Text as="span" color={accepted ? 'softInk' : 'ink'}>
        {children}
        {accepted && ' You know of it.'}
      </Text>
    </Button>
  )
}

/** Findings that are alike: opened, each of them. */
function Row({ row, chosen }: { row: Alike; chosen: string | null }) {
  const [opened, setOpened] = useState(false)
  const [first] = row.findings
  // One that is chosen on the work is seen in its row.
  const open = opened || row.findings.some((finding) => findingKey(finding) === chosen)
  if (!first) return null
  return (
    <Box as="li" listStyleType="none" data-alike={row.kind} borderTopWidth="1px" borderColor="rule" bg="card">
      <Line of={first} open={open} onClick={() => setOpened(!open)}>
        {said(row)}
      </Line>
      {open && (
        <>
          <AllActions row={row} />
          <Flex as="ol" direction="column" pl="5" aria-label="Each of them">
            {row.findings.map((finding) => (
              <Card key={`${findingKey(finding)} ${finding.number}`} finding={finding} chosen={chosen} />
            ))}
          </Flex>
        </>
      )}
    </Box>
  )
}

function AllActions({ row: { findings, accepted } }: { row: Alike }) {
  const repairable = findings.filter((finding) => finding.remedy)
  const repair = useMutation({
    mutationFn: async () => {
      const { recipe } = useDesign.getState()
      const numbers = repairable.map((finding) => finding.number)
      const mended = await answer(api.POST('/api/findings/remedy', { body: { recipe, numbers } }))
      // An answer goes for no other recipe than it was made of.
      if (useDesign.getState().recipe === recipe) editRecipeOnce(mended)
    },
  })
  const problem = repair.error ? asProblem(repair.error) : null
  const full = useDesign((s) => s.recipe.accepted_findings.length + findings.length > MOST_ACCEPTED_FINDINGS)
  return (
    <Flex direction="column" gap="2" px="4" pb="2.5">
      {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
      <Flex gap="2" wrap="wrap">
        {!accepted && repairable.length > 0 && (
          <Button
            size="sm"
            variant="outline"
            bg="card"
            loading={repair.isPending}
            onClick={() => repair.mutate()}
          >
            Repair all
          </Button>
        )}
        {accepted ? (
          <Button
            size="sm"
            variant="outline"
            onClick={() => take((recipe) => withReopened(recipe, findings))}
          >
            Check them again
          </Button>
        ) : (
          !full && (
            <Button
              size="sm"
              variant="outline"
              onClick={() => take((recipe) => withAccepted(recipe, findings))}
            >
              I know, all
            </Button>
          )
        )}
      </Flex>
    </Flex>
  )
}

function withAccepted(recipe: Recipe, findings: readonly Finding[]): Recipe {
  const kept = withKeptIds(recipe, new Set(findings.map((finding) => finding.part)))
  return {
    ...kept,
    accepted_findings: [...recipe.accepted_findings, ...findings.map((finding) => finding.as_accepted)],
  }
}

function withReopened(recipe: Recipe, findings: readonly Finding[]): Recipe {
  const gone = new Set(findings.flatMap((finding) => finding.accepted_as))
  return { ...recipe, accepted_findings: recipe.accepted_findings.filter((_, n) => !gone.has(n)) }
}

function Card({ finding, chosen }: { finding: Finding; chosen: string | null }) {
  const open = findingKey(finding) === chosen
  function look() {
    chooseFinding(open ? null : finding)
    if (open) useView.getState().keepFitted()
    else useView.getState().show(around(finding))
  }
  return (
    <Box
      as="li"
      listStyleType="none"
      data-finding={finding.kind}
      borderTopWidth="1px"
      borderColor="rule"
      bg={open ? 'paper' : 'card'}
    >
      <Line of={finding} open={open} onClick={look}>
        {finding.what}
      </Line>
      {open && <Actions finding={finding} />}
    </Box>
  )
}

function Actions({ finding }: { finding: Finding }) {
  const remedy = useRemedy(finding.remedy && !finding.accepted ? finding : null)
  const full = useDesign((s) => s.recipe.accepted_findings.length >= MOST_ACCEPTED_FINDINGS)
  const [refused, setRefused] = useState(false)
  return (
    <Flex direction="column" gap="2" px="4" pb="3">
      {refused && full && (
        <ProblemNote
          what={`A design holds up to ${MOST_ACCEPTED_FINDINGS} accepted findings.`}
          todo="Reopen some first; the design is as it was."
        />
      )}
      {remedy.problem && <ProblemNote what={remedy.problem.message} todo={remedy.problem.todo} />}
      {remedy.mended && (
        <Text fontSize="sm" color="softInk">
          On the work, green is added and pale is taken away.
        </Text>
      )}
      <Flex gap="2" wrap="wrap">
        {finding.remedy && !finding.accepted && (
          <Button
            size="sm"
            bg="ink"
            color="card"
            disabled={!remedy.mended}
            onClick={() =>
              remedy.mended && remedy.of === useDesign.getState().recipe && editRecipeOnce(remedy.mended)
            }
          >
            {finding.remedy}
          </Button>
        )}
        {finding.accepted ? (
          <Button
            size="sm"
            variant="outline"
            onClick={() => take((recipe) => withReopened(recipe, [finding]))}
          >
            Check it again
          </Button>
        ) : (
          <Button
            size="sm"
            variant="outline"
            onClick={() => (full ? setRefused(true) : take((recipe) => withAccepted(recipe, [finding])))}
          >
            I know
          </Button>
        )}
      </Flex>
    </Flex>
  )
}
