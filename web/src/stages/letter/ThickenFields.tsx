import { Button, Flex, Text } from '@chakra-ui/react'
import { useMutation } from '@tanstack/react-query'
import { asProblem } from '../../shared/api/client'
import { limitsOf } from '../../shared/api/model'
import type { Unit } from '../../shared/design/recipe'
import { editOnce, useDesign, usePart } from '../../shared/design/store'
import { thickenUntil } from '../../shared/design/thicken'
import { showNumber } from '../../shared/design/units'
import { LengthRow } from '../../shared/fields/LengthRow'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { Segments } from '../../shared/fields/Segments'

/** Every edge moved outwards or inwards by a length, or until the thinnest stroke is as wide as wished. */
export function ThickenFields() {
  const unit: Unit = useDesign((s) => s.recipe.unit)
  const thicken = usePart((part) => part.thicken_mm ?? 0)
  const corners = usePart((part) => part.corners ?? 'round')
  const part = usePart(({ id }) => id)
  const edit = useDesign((s) => s.edit)
  const step = unit === 'in' ? 0.0254 : 0.05
  return (
    <>
      <LengthRow
        label="Thicker all around"
        mm={thicken}
        unit={unit}
        {...limitsOf('Lettering', 'thicken_mm')}
        stepMm={step}
        onChange={(thicken_mm) => edit({ thicken_mm })}
      />
      {thicken !== 0 && (
        <Segments
          label="Corners"
          value={corners}
          options={[
            { value: 'round', label: 'Round corners' },
            { value: 'mitred', label: 'Sharp corners' },
          ]}
          onChange={(value) => {
            editOnce({ corners: value })
          }}
          fill
        />
      )}
      <Until key={part} part={part} unit={unit} step={step} />
    </>
  )
}

function Until({ part, unit, step }: { part: string; unit: Unit; step: number }) {
  const thicken = usePart((part) => part.thicken_mm ?? 0)
  const mutation = useMutation({ mutationFn: (stroke_mm: number) => thickenUntil(part, stroke_mm) })
  const answer = mutation.error ? asProblem(mutation.error) : null
  // Strokes that are as wide already are no mistake of the maker's.
  const enough = answer?.kind === 'thick-enough' ? answer : null
  const problem = enough ? null : answer
  const found = mutation.data
  return (
    <>
      <LengthRow
        label="Thinnest stroke to be"
        mm={mutation.variables ?? 1}
        unit={unit}
        min={0.05}
        max={50}
        stepMm={step}
        onChange={(mm) => mutation.mutate(mm)}
      />
      {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
      {enough && (
        <Text fontSize="sm" color="softInk" data-testid="thinnest">
          {enough.message}
        </Text>
      )}
      {found && !answer && (
        <Text fontSize="sm" color="softInk" data-testid="thinnest">
          The thinnest stroke was {showNumber(found.before_mm, unit, 2)} {unit}; now it is{' '}
          {showNumber(found.after_mm, unit, 2)} {unit}.
          {!found.is_met && ' No thickening gives just what you asked for: this is the nearest.'}
        </Text>
      )}
      {thicken !== 0 && (
        <Flex>
          <Button
            size="sm"
            variant="outline"
            onClick={() => {
              editOnce({ thicken_mm: 0 })
              mutation.reset()
            }}
          >
            As the face draws it
          </Button>
        </Flex>
      )}
    </>
  )
}
