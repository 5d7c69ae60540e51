import { Box, chakra, Flex, Text } from '@chakra-ui/react'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useEffect } from 'react'
import { answer, api, asProblem } from '../../shared/api/client'
import { OPERATION_WORDS, type Operation, partName } from '../../shared/design/partNames'
import { findPart } from '../../shared/design/recipe'
import { useDesign } from '../../shared/design/store'
import { useDebounced } from '../../shared/design/useDebounced'
import { useUnit } from '../../shared/evaluation/store'
import { Choice as List } from '../../shared/fields/Choice'
import { LengthRow } from '../../shared/fields/LengthRow'
import { Row, Section } from '../../shared/fields/Panel'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { Segments } from '../../shared/fields/Segments'
import { Tile } from '../../shared/fields/Tile'
import { combine } from './actions'
import { OperationMark } from './OperationMark'
import { type Preview, useBuild } from './store'

const Choice = chakra(Tile, {
  base: {
    display: 'grid',
    gridTemplateRows: '58px auto',
    gap: '1',
    p: '1.5',
    fontSize: 'sm',
    fontWeight: '600',
    _hover: { borderColor: 'ink' },
    _focusVisible: { borderColor: 'ink' },
    '&[aria-disabled=true]': { opacity: 0.55, cursor: 'default' },
  },
})

/** While parts are dragged, what could be made of them waits. */
const QUIET_MS = 150

/** What can be made of the parts that are chosen: each as a picture of the real parts. */
export function Operations({ ids }: { ids: readonly string[] }) {
  const now = useDesign((s) => s.recipe)
  const quiet = useDebounced(now, QUIET_MS)
  const recipe = ids.every((id) => findPart(quiet, id)) ? quiet : now
  const halo = useBuild((s) => s.halo)
  const preview = useBuild((s) => s.preview)
  const { look } = useBuild.getState()
  const query = useQuery({
    queryKey: ['operations', recipe, ids, halo],
    queryFn: ({ signal }) =>
      answer(api.POST('/api/build/preview', { body: { recipe, parts: [...ids], halo }, signal })),
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 30_000,
  })
  useEffect(() => () => look(null), [look])
  const ground = ids[0] ?? ''
  const problem = query.error ? asProblem(query.error) : null
  return (
    <Section title="Put together">
      <Row label={`${ids.length} parts, laid on`}>
        <List
          label="Laid on"
          value={ground}
          options={ids.map((id) => ({ value: id, label: partName(findPart(recipe, id)) }))}
          onChange={useBuild.getState().setGround}
        />
      </Row>
      {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
      <Box
        display="grid"
        gridTemplateColumns="repeat(3, 1fr)"
        gap="1.5"
        role="group"
        aria-label="Put together"
      >
        {query.data?.map((made) => (
          <OperationChoice key={made.how} made={made} ids={ids} />
        ))}
        <Choice type="button" onClick={() => combine(ids, 'edges')} title="Then point at the edges">
          <Box p="2.5">
            <OperationMark how="edges" />
          </Box>
          {OPERATION_WORDS.edges}
        </Choice>
      </Box>
      <Text minHeight="10" fontSize="sm" aria-live="polite">
        {preview ? sayPreview(preview) : 'Point at one to see it on the work.'}
      </Text>
      <HaloFields />
    </Section>
  )
}

const sayPreview = ({ how, summary: says, problem }: Preview) =>
  `${OPERATION_WORDS[how as Operation]}: ${problem ? `${problem.what} ${problem.todo}` : says}.`.replace(
    '..',
    '.',
  )

function OperationChoice({ made, ids }: { made: Preview; ids: readonly string[] }) {
  const { look } = useBuild.getState()
  const halo = useBuild((s) => s.halo)
  const name = OPERATION_WORDS[made.how]
  return (
    <Choice
      type="button"
      aria-disabled={made.problem !== null}
      aria-label={`${name}: ${made.problem ? made.problem.what : made.summary}`}
      onPointerEnter={() => look(made)}
      onPointerLeave={() => look(null)}
      onFocus={() => look(made)}
      onBlur={() => look(null)}
      onClick={() => !made.problem && combine(ids, made.how, made.how === 'halo' ? halo : undefined)}
    >
      {made.box ? (
        <Picture made={made} />
      ) : (
        <Flex align="center" justify="center" color="softInk">
          nothing
        </Flex>
      )}
      {name}
    </Choice>
  )
}

function Picture({ made: { box, films, how } }: { made: Preview }) {
  if (!box) return null
  const margin = Math.max(box.width, box.height) * 0.03
  return (
    <svg
      width="100%"
      height="100%"
      viewBox={`${box.x - margin} ${box.y - margin} ${box.width + 2 * margin} ${box.height + 2 * margin}`}
      aria-hidden="true"
    >
      {films.map((film) => (
        <path
          key={film.colour}
          d={film.d}
          fill={film.colour}
          stroke={how === 'divide' ? 'var(--chakra-colors-card)' : 'none'}
          strokeWidth="1.5"
          vectorEffect="non-scaling-stroke"
        />
      ))}
    </svg>
  )
}

/** How a halo is laid. */
function HaloFields() {
  const halo = useBuild((s) => s.halo)
  const { setHalo } = useBuild.getState()
  const unit = useUnit()
  return (
    <>
      <LengthRow
        label="Halo"
        mm={halo.mm}
        unit={unit}
        min={0.1}
        max={100}
        stepMm={0.5}
        onChange={(mm) => setHalo({ ...halo, mm })}
      />
      <Segments
        label="Manner of the halo"
        size="xs"
        value={halo.manner ?? 'stand'}
        options={[
          { value: 'stand', label: 'Names stand in it' },
          { value: 'through', label: 'Names cut through' },
        ]}
        onChange={(manner) => setHalo({ ...halo, manner })}
        fill
      />
    </>
  )
}
