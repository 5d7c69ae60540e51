import { Button, Flex } from '@chakra-ui/react'
import { ArrowDownToLine, ArrowUpToLine, Copy, FlipHorizontal2, FlipVertical2, Trash2 } from 'lucide-react'
import { type ComponentProps, memo, useDeferredValue, useState } from 'react'
import { findPart, type Part } from '../design/recipe'
import { endStep, useDesign } from '../design/store'
import { useLaterEvaluation, useUnit } from '../evaluation/store'
import { IconTool } from '../fields/IconTool'
import { LengthRow } from '../fields/LengthRow'
import { Row, Section } from '../fields/Panel'
import { Toggle } from '../fields/Toggle'
import { TypedField, within } from '../fields/TypedField'
import { arrangeOnce, copy, order, remove } from './actions'
import { about, alike, movedBy, viewOf } from './arrange'
import { grown, stretches } from './resize'

/** Where a part lies, how large it is, and which way it is turned. */
export function PlaceFields({ part }: { part: Part }) {
  // The figures may follow what is dragged by a moment.
  return <Figures part={useDeferredValue(part)} />
}

const Figures = memo(function Figures({ part }: { part: Part }) {
  const evaluation = useLaterEvaluation()
  const unit = useUnit()
  const [even, setEven] = useState(true)
  const view = viewOf(evaluation, part.id)
  const box = view?.box
  if (!box || !evaluation) return null
  const middle = { x: box.x + box.width / 2, y: box.y + box.height / 2 }
  const ids = [part.id]

  function resize(across: number, down: number) {
    const { recipe, editRecipe } = useDesign.getState()
    if (!evaluation || !Number.isFinite(across) || !Number.isFinite(down)) return
    endStep()
    editRecipe({ parts: grown(recipe, evaluation, new Set(ids), { across, down, ...middle }).parts })
    endStep()
  }
  const free = stretches(part)
  const wide = (mm: number) => resize(mm / box.width, even || !free ? mm / box.width : 1)
  const high = (mm: number) => resize(even || !free ? mm / box.height : 1, mm / box.height)
  const sized = part.kind !== 'backing'

  return (
    <Section title="Place and size">
      {sized && (
        <>
          <LengthRow
            label="Width"
            mm={box.width}
            unit={unit}
            min={0.1}
            max={5000}
            stepMm={1}
            onChange={wide}
          />
          <LengthRow
            label="Height"
            mm={box.height}
            unit={unit}
            min={0.1}
            max={5000}
            stepMm={1}
            onChange={high}
          />
        </>
      )}
      {free && (
        <Toggle checked={even} onChange={setEven}>
          Keep its proportions
        </Toggle>
      )}
      <LengthRow
        label="Middle, from the left"
        mm={middle.x}
        unit={unit}
        min={-5000}
        max={5000}
        stepMm={1}
        onChange={(mm) => arrangeOnce(alike(ids, movedBy(mm - middle.x, 0)))}
      />
      <LengthRow
        label="Middle, downwards"
        mm={middle.y}
        unit={unit}
        min={-5000}
        max={5000}
        stepMm={1}
        onChange={(mm) => arrangeOnce(alike(ids, movedBy(0, mm - middle.y)))}
      />
      <Row label="Turned">
        <TypedField
          label="Turned"
          value={part.place.turn}
          show={(degrees) => `${Math.round(degrees * 100) / 100}°`}
          read={(text) => {
            const degrees = Number(text.replace('°', '').replace(',', '.').trim())
            return text.trim() !== '' && Number.isFinite(degrees)
              ? { value: within(degrees, -360, 360) }
              : { wrong: `“${text.trim()}” is not a number of degrees.` }
          }}
          step={(degrees, steps) => within(degrees + steps, -360, 360)}
          onChange={(degrees) =>
            arrangeOnce(alike(ids, about(middle.x, middle.y, 1, degrees - part.place.turn)))
          }
        />
      </Row>
      <Flex gap="1" wrap="wrap" role="group" aria-label="This part">
        <Mark
          name="Flip left and right"
          onClick={() => arrangeOnce(alike(ids, about(middle.x, middle.y, 1, 0, true)))}
        >
          <FlipHorizontal2 size={17} />
        </Mark>
        <Mark
          name="Flip top and bottom"
          onClick={() => arrangeOnce(alike(ids, about(middle.x, middle.y, 1, 180, true)))}
        >
          <FlipVertical2 size={17} />
        </Mark>
        <Mark name="To the front by one" onClick={() => order(part.id, 1)}>
          <ArrowUpToLine size={17} />
        </Mark>
        <Mark name="To the back by one" onClick={() => order(part.id, -1)}>
          <ArrowDownToLine size={17} />
        </Mark>
        <Mark name="Copy" onClick={() => copy(ids)}>
          <Copy size={17} />
        </Mark>
        <Mark name="Take out" onClick={() => remove(ids)}>
          <Trash2 size={17} />
        </Mark>
      </Flex>
    </Section>
  )
})

function Mark(props: ComponentProps<typeof IconTool>) {
  return <IconTool size="sm" variant="outline" {...props} />
}

/** What can be done with several parts at once. */
export function SeveralActions({ ids }: { ids: readonly string[] }) {
  const locked = useDesign((s) => ids.some((id) => findPart(s.recipe, id)?.locked))
  return (
    <Section title="These parts">
      <Flex gap="2" wrap="wrap">
        <Button size="sm" variant="outline" onClick={() => copy(ids)}>
          Copy them
        </Button>
        <Button size="sm" variant="outline" onClick={() => remove(ids)}>
          Take them out
        </Button>
      </Flex>
      {locked && 'Parts that are locked stay where they are.'}
    </Section>
  )
}
