import { Button, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { asProblem, type Problem } from '../api/client'
import { keepMineAsCopy, takeTheirs, useSaving } from '../design/autosave'
import { ProblemNote } from '../fields/ProblemNote'

/** Two windows changed one design: the maker says what becomes of this window's work. */
export function ConflictNote() {
  const state = useSaving((s) => s.state)
  const navigate = useNavigate()
  const [problem, setProblem] = useState<Problem | null>(null)
  if (state.kind !== 'conflict') return null
  const attempt = (resolve: () => Promise<unknown>) => () =>
    resolve().catch((error: unknown) => setProblem(asProblem(error)))
  return (
    <ProblemNote
      what="This design was changed in another window."
      todo="What you did here is not on the shelf yet. Keep it as a design of its own, or take the other version."
    >
      <Flex gap="2" mt="2.5">
        <Button
          size="xs"
          bg="ink"
          color="card"
          onClick={attempt(async () => navigate(`/design/${await keepMineAsCopy()}`))}
        >
          Keep mine as a copy
        </Button>
        <Button size="xs" variant="outline" onClick={attempt(takeTheirs)}>
          Take the other version
        </Button>
      </Flex>
      {problem && (
        <Text mt="2">
          {problem.message} {problem.kind === 'away' ? 'Try again in a moment.' : problem.todo}
        </Text>
      )}
    </ProblemNote>
  )
}
