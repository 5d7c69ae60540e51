import { Button, Flex, Text } from '@chakra-ui/react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, api, asProblem, type Schemas } from '../api/client'
import { FindingMark } from '../check/FindingMark'
import { useUnit } from '../evaluation/store'
import { Expander } from '../fields/Expander'
import { LengthRow } from '../fields/LengthRow'
import { ProblemNote } from '../fields/ProblemNote'

type Touch = Schemas['PanelIn']

/** The cutter on the bench: a simulated one, with the buttons that a person at it would have. */
export function CutterSection() {
  const queries = useQueryClient()
  const cutter = useQuery({
    queryKey: ['cutter'],
    queryFn: () => answer(api.GET('/api/cutter')),
    refetchInterval: 2_000,
  }).data
  const [ends, setEnds] = useState(100)
  const touch = useMutation({
    mutationFn: (body: Touch) => answer(api.POST('/api/cutter', { body })),
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: ['cutter'] })
      void queries.invalidateQueries({ queryKey: ['jobs'] })
    },
  })
  const unit = useUnit()
  const problem = touch.error ? asProblem(touch.error) : null
  const says = !cutter ? 'looking for it' : !cutter.on ? 'off' : cutter.busy ? 'cutting' : 'ready'
  return (
    <>
      <Flex justify="space-between" align="center" data-cutter={says}>
        <Text>Bench cutter (simulated)</Text>
        <Flex align="center" gap="1.5" fontWeight="600">
          <FindingMark blocks={cutter?.on === false} look={cutter?.busy ?? true} />
          {says}
        </Flex>
      </Flex>
      <Expander label="At the cutter" open={false}>
        <Flex gap="2" wrap="wrap">
          <Button
            size="xs"
            variant="outline"
            onClick={() => touch.mutate({ do: cutter?.on === false ? 'on' : 'off' })}
          >
            {cutter?.on === false ? 'Switch it on' : 'Switch it off'}
          </Button>
          <Button size="xs" variant="outline" onClick={() => touch.mutate({ do: 'unplug' })}>
            Pull its cable
          </Button>
          <Button size="xs" variant="outline" onClick={() => touch.mutate({ do: 'film', film_mm: ends })}>
            Let the film end
          </Button>
        </Flex>
        <LengthRow
          label="Film ends after"
          mm={ends}
          unit={unit}
          min={0}
          max={20_000}
          stepMm={10}
          onChange={setEnds}
        />
        {cutter?.film_mm !== null && cutter?.film_mm !== undefined && (
          <Button size="xs" variant="outline" alignSelf="start" onClick={() => touch.mutate({ do: 'film' })}>
            Lay in a new film
          </Button>
        )}
      </Expander>
      {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
    </>
  )
}
