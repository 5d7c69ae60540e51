import { Button, Flex, NativeSelect, Text } from '@chakra-ui/react'
import { useMutation } from '@tanstack/react-query'
import { useRef } from 'react'
import { answer, api, asProblem } from '../api/client'
import { useDesign } from '../design/store'
import { useUnit } from '../evaluation/store'
import { LengthRow } from '../fields/LengthRow'
import { Row } from '../fields/Panel'
import { ProblemNote } from '../fields/ProblemNote'
import { Toggle } from '../fields/Toggle'
import { TypedField, within } from '../fields/TypedField'
import { Others } from './Others'
import type { CutPlan } from './plan'
import { editPlan } from './useSheets'

const MOST_COPIES = 500

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
        <TypedField
          label="Copies"
          value={plan.copies}
          show={String}
          read={(text) => {
            const value = Number(text.trim())
            return Number.isInteger(value) && value >= 1 && value <= MOST_COPIES
              ? { value }
              : { wrong: `Type a whole number from 1 to ${MOST_COPIES}.` }
          }}
          step={(value, steps) => within(value + Math.sign(steps), 1, MOST_COPIES)}
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
        Parts lie apart from each other
      </Toggle>
      <Closely plan={plan} />
      <Others />
    </>
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
      if (useDesign.getState().recipe === of) editPlan({ laid: nested.cut.laid })
    },
  })
  const error = nesting.error && nesting.error.name !== 'AbortError' ? asProblem(nesting.error) : null
  return (
    <>
      <Row label="May be turned">
        <NativeSelect.Root size="sm">
          <NativeSelect.Field
            aria-label="May be turned"
            bg="card"
            borderColor="edge"
            value={plan.turns}
            onChange={(e) => editPlan({ turns: e.target.value as CutPlan['turns'] })}
          >
            {TURNS.map(({ value, label }) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      </Row>
      <Flex gap="2">
        <Button
          size="sm"
          variant="outline"
          flex="1"
          aria-pressed={plan.laid.length === 0}
          onClick={() => editPlan({ laid: [] })}
        >
          In rows
        </Button>
        {nesting.isPending ? (
          <Button size="sm" variant="outline" flex="1" onClick={() => asking.current?.abort()}>
            Arranging… Stop
          </Button>
        ) : (
          <Button size="sm" variant="outline" flex="1" onClick={() => nesting.mutate()}>
            Closely, less film
          </Button>
        )}
      </Flex>
      {plan.laid.length > 0 && (
        <Text fontSize="sm" color="softInk">
          Everything stays where it was laid, until you arrange it anew.
        </Text>
      )}
      {error && <ProblemNote what={error.message} todo={error.todo} />}
    </>
  )
}
