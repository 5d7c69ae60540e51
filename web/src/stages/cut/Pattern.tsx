import { Button, Flex, Text } from '@chakra-ui/react'
import { useMutation } from '@tanstack/react-query'
import { Printer } from 'lucide-react'
import { useState } from 'react'
import { api, asProblem, type Schemas } from '../../shared/api/client'
import { download } from '../../shared/api/download'
import { useDesign } from '../../shared/design/store'
import { useUnit } from '../../shared/evaluation/store'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { Segments } from '../../shared/fields/Segments'
import { showGate } from '../../shared/ready/gate'

type Paper = NonNullable<Schemas['PatternIn']['paper']>

const PAPERS: { value: Paper; label: string }[] = [
  { value: 'a4', label: 'A4' },
  { value: 'letter', label: 'Letter' },
]

/** The design printed at true size, on as many pages as it takes. */
export function Pattern() {
  const unit = useUnit()
  const [chosen, setPaper] = useState<Paper | null>(null)
  const paper = chosen ?? (unit === 'in' ? 'letter' : 'a4')
  const saving = useMutation({
    mutationFn: async (anyway: boolean) => {
      const { name, recipe } = useDesign.getState()
      await download(api.POST('/api/pattern', { body: { name, recipe, paper, anyway }, parseAs: 'blob' }))
    },
    onError: (error) =>
      showGate(error, {
        to: 'file',
        label: 'Save the pattern',
        allTheSame: 'Save all the same',
        go: () => saving.mutate(true),
      }),
  })
  const problem = saving.error ? asProblem(saving.error) : null
  return (
    <>
      <Flex gap="2" align="center">
        <Segments label="Paper" size="xs" value={paper} options={PAPERS} onChange={setPaper} />
        <Button
          size="sm"
          variant="outline"
          flex="1"
          loading={saving.isPending}
          onClick={() => saving.mutate(false)}
        >
          <Printer size={15} /> Pattern as PDF
        </Button>
      </Flex>
      <Text fontSize="sm" color="softInk">
        At true size, on as many pages as it takes, with crosses where pages meet. Print it at 100 % and
        measure the bar.
      </Text>
      {problem && problem.kind !== 'at-gate' && <ProblemNote what={problem.message} todo={problem.todo} />}
    </>
  )
}
