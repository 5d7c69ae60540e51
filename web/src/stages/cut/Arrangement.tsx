import { Button, Flex, Text } from '@chakra-ui/react'
import { useMutation } from '@tanstack/react-query'
import { useRef } from 'react'
import { answer, api, asProblem } from '../../shared/api/client'
import { limitsOf } from '../../shared/api/model'
import type { CutPlan } from '../../shared/design/cutPlan'
import { useDesign } from '../../shared/design/store'
import { showLength } from '../../shared/design/units'
import { useUnit } from '../../shared/evaluation/store'
import { Choice } from '../../shared/fields/Choice'
import { CountField } from '../../shared/fields/CountField'
import { LengthRow } from '../../shared/fields/LengthRow'
import { Row } from '../../shared/fields/Panel'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { Toggle } from '../../shared/fields/Toggle'
import { Others } from './Others'
import { editPlan } from './useSheets'

const MOST_COPIES = limitsOf('CutPlan', 'copies').max

const TURNS: { value: CutPlan['turns']; label: string }[] = [
  { value: 'none', label: 'not turned' },
  { value: 'half', label: 'by half a turn: keeps the grain' },
  { value: 'quarter', label: 'by quarter turns' },
  { value: 'any', label: 'any way' },
]

/** How many copies, how far apart, and how they are arranged. */
export function Arrangement() {
  const plan = useDesign((s) => s.recipe.cut)
  const unit = useUnit()
  return (
    <>
      <Row label="Copies">
        <CountField
          label="Copies"
          value={plan.copies}
          min={1}
          max={MOST_COPIES}
          onChange={(copies) => editPlan({ copies, laid: [] })}
        />
      </Row>
      <LengthRow
        label="Room between"
        mm={plan.spacing_mm}
        unit={unit}
        min={0}
        max={200}
        stepMm={unit === 'in' ? 0.79375 : 0.5}
        onChange={(mm) => editPlan({ spacing_mm: mm, laid: [] })}
      />
      <Toggle
        checked={!plan.together}
        onChange={(apart) => editPlan({ together: !apart, laid: [], ...(apart ? { marks: false } : {}) })}
      >
        Lay each part by itself
      </Toggle>
      <Closely plan={plan} />
      <Others />
    </>
  )
}

const chosen = (is: boolean) => ({
  'aria-pressed': is,
  ...(is ? { bg: 'ink', color: 'card', borderColor: 'ink' } : {}),
})

/** How much film laying closely has saved. */
function Saved({ rows_mm, closely_mm }: { rows_mm: number; closely_mm: number }) {
  const unit = useUnit()
  const saved = rows_mm - closely_mm
  return (
    <Text fontSize="sm" fontWeight="600" color="hold">
      {saved > 0.5
        ? `${showLength(saved, unit, unit === 'in' ? 2 : 0)} of film less than in rows.`
        : 'In rows it would take no more film.'}
    </Text>
  )
}

/** Arranged to use little film: takes some seconds, and can be stopped. */
function Closely({ plan }: { plan: CutPlan }) {
  const asking = useRef<AbortController | null>(null)
  const nesting = useMutation({
    mutationFn: () => {
      const { name, recipe } = useDesign.getState()
      asking.current = new AbortController()
      const { signal } = asking.current
      return answer(api.POST('/api/cut/nest', { body: { name, recipe }, signal })).then((nested) => ({
        of: recipe,
        nested,
      }))
    },
    onSuccess: ({ of, nested }) => {
      // What was changed meanwhile is not written over.
      const { laid, closely } = nested.recipe.cut
      if (useDesign.getState().recipe === of) editPlan({ laid, closely })
    },
  })
  const error = nesting.error && nesting.error.name !== 'AbortError' ? asProblem(nesting.error) : null
  return (
    <>
      <Row label="May be turned">
        <Choice
          label="May be turned"
          value={plan.turns}
          options={TURNS}
          onChange={(turns) => {
            editPlan({ turns })
            // What was laid closely is laid so anew, as it may be turned now.
            if (plan.closely) nesting.mutate()
          }}
        />
      </Row>
      <Flex gap="2">
        <Button
          size="sm"
          variant="outline"
          flex="1"
          {...chosen(plan.laid.length === 0)}
          onClick={() => editPlan({ laid: [] })}
        >
          In rows
        </Button>
        {nesting.isPending ? (
          <Button size="sm" variant="outline" flex="1" onClick={() => asking.current?.abort()}>
            Arranging… Stop
          </Button>
        ) : (
          <Button
            size="sm"
            variant="outline"
            flex="1"
            {...chosen(plan.closely)}
            onClick={() => nesting.mutate()}
          >
            Closely, less film
          </Button>
        )}
      </Flex>
      {plan.laid.length > 0 && (
        <Text fontSize="sm" color="softInk">
          {plan.closely
            ? 'Laid closely. It stays so, until you arrange it anew.'
            : 'Everything stays where it was laid, until you arrange it anew.'}
        </Text>
      )}
      {plan.closely && nesting.data && <Saved {...nesting.data.nested} />}
      {error && <ProblemNote what={error.message} todo={error.todo} />}
    </>
  )
}
