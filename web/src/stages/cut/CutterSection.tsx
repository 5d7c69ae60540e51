import { Button, Flex, Text } from '@chakra-ui/react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, api, asProblem, type Schemas } from '../../shared/api/client'
import { useMachines } from '../../shared/api/useMachines'
import { useDesign } from '../../shared/design/store'
import { useUnit } from '../../shared/evaluation/store'
import { Expander } from '../../shared/fields/Expander'
import { FindingMark } from '../../shared/fields/FindingMark'
import { LengthRow } from '../../shared/fields/LengthRow'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { machineOf } from './MachineSection'

type Touch = Schemas['PanelIn']
type Cutter = Schemas['CutterOut']

const SAYS: Record<Cutter['state'], string> = {
  off: 'off',
  unplugged: 'cable out',
  'no-film': 'out of film',
  cutting: 'cutting',
  ready: 'ready',
}

const STANDS = new Set<Cutter['state']>(['off', 'unplugged', 'no-film'])

/** The cutter that the sheets go to: the one on the bench, or a machine of the shop's own. */
export function CutterSection() {
  const name = useDesign((s) => s.recipe.cut.machine)
  const row = machineOf(useMachines(), name)
  if (!row || row.reached.by === 'bench') return <BenchCutter />
  const { by, host, port, device } = row.reached
  return (
    <Flex justify="space-between" align="center" gap="2">
      <Text>{row.machine.name}</Text>
      <Text color="softInk" fontWeight="600">
        at {by === 'network' ? `${host}:${port}` : device}
      </Text>
    </Flex>
  )
}

/** A simulated cutter, with the buttons that a person at it would have. */
function BenchCutter() {
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
  const says = cutter ? SAYS[cutter.state] : 'looking for it'
  const isOff = cutter?.state === 'off'
  const isOut = cutter?.state === 'unplugged'
  const film = cutter?.film_mm ?? null
  const outlasts = film !== null && cutter?.sheet_mm != null && film >= cutter.sheet_mm
  return (
    <>
      <Flex justify="space-between" align="center" data-cutter={says}>
        <Text>Bench cutter (simulated)</Text>
        <Flex align="center" gap="1.5" fontWeight="600">
          <FindingMark blocks={cutter ? STANDS.has(cutter.state) : false} look={cutter?.state !== 'ready'} />
          {says}
        </Flex>
      </Flex>
      <Expander label="At the cutter" open={false}>
        <Flex gap="2" wrap="wrap">
          <Button size="xs" variant="outline" onClick={() => touch.mutate({ do: isOff ? 'on' : 'off' })}>
            {isOff ? 'Switch it on' : 'Switch it off'}
          </Button>
          <Button
            size="xs"
            variant="outline"
            disabled={isOff}
            onClick={() => touch.mutate({ do: isOut ? 'plug' : 'unplug' })}
          >
            {isOut ? 'Plug its cable in' : 'Pull its cable'}
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
        {film !== null && (
          <>
            {outlasts && (
              <Text fontSize="sm" color="softInk">
                The sheet in it is shorter than that: the film lasts for it.
              </Text>
            )}
            <Button
              size="xs"
              variant="outline"
              alignSelf="start"
              onClick={() => touch.mutate({ do: 'film' })}
            >
              Lay in a new film
            </Button>
          </>
        )}
      </Expander>
      {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
    </>
  )
}
