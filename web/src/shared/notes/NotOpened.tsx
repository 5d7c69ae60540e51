import { Button, Flex } from '@chakra-ui/react'
import { Link } from 'react-router'
import type { Problem } from '../api/client'
import { Brand } from '../fields/Brand'
import { ProblemNote } from '../fields/ProblemNote'

/** Says why a design or an order is not there, and leads to the others. */
export function NotOpened({ problem, to, label }: { problem: Problem; to: string; label: string }) {
  return (
    <Flex direction="column" p="6" gap="6" maxWidth="560px">
      <Brand />
      <ProblemNote
        what={problem.message}
        todo={problem.away ? 'It is opened as soon as the server is back.' : problem.todo}
      >
        <Button asChild size="sm" variant="outline" mt="3">
          <Link to={to}>{label}</Link>
        </Button>
      </ProblemNote>
    </Flex>
  )
}
