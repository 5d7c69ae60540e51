import { Button, Flex } from '@chakra-ui/react'
import {
  ArrowDownToLine,
  ArrowUpToLine,
  Copy,
  FlipHorizontal2,
  FlipVertical2,
  PenLine,
  Trash2,
} from 'lucide-react'
import { type ComponentProps, memo, useDeferredValue, useState } from 'react'
import { limitsOf } from '../../shared/api/model'
import { stockOf } from '../../shared/design/cutPlan'
import { partName } from '../../shared/design/partNames'
import { findPart, type Part } from '../../shared/design/recipe'
import { editRecipeOnce, useDesign } from '../../shared/design/store'
import type { Box, Evaluation, Placement } from '../../shared/evaluation/evaluation'
import { evaluationNow, onceMeasured, useLaterEvaluation, useUnit } from '../../shared/evaluation/store'
import { Choice } from '../../shared/fields/Choice'
import { IconTool } from '../../shared/fields/IconTool'
import { LengthRow } from '../../shared/fields/LengthRow'
import { NumberRow } from '../../shared/fields/NumberRow'
import { Row, Section } from '../../shared/fields/Panel'
import { Toggle } from '../../shared/fields/Toggle'
import type { Spot } from '../../shared/view/view'
import { AlignFields } from './AlignFields'
import { anotherName, arrangeOnce, copy, order, remove, turnTogether } from './actions'
import { about, alike, movedBy } from './arrange'
import { viewOf } from './levels'
import { letteringsIn } from './parts'
import { grown, stretches } from './resize'

/** Where a part lies, how large it is, and which way it is turned. */
export function PlaceFields({ part }: { part: Part }) {
  // The figures may follow what is dragged by a moment, but they are never those of another part.
  const later = useDeferredValue(part)
  return <Figures key={part.id} part={later.id === part.id ? later : part} />
}

const Figures = memo(function Figures({ part }: { part: Part }) {
  const evaluation = useLaterEvaluation()
  const unit = useUnit()
  const [even, setEven] = useState(true)
  const view = viewOf(evaluation, part.id)
  const box = view?.box
  if (!box || !evaluation) return null
  const { id } = part
  const free = stretches(part)
  const middle = middleOf(box)
  const wide: Resize = (mm, from = null) => resize(id, mm, from, 'width', even || !free)
  const high: Resize = (mm, from = null) => resize(id, mm, from, 'height', even || !free)
  const sized = part.kind !== 'backing'

  return (
    <Section title="Place and size">
      {sized && (
        <>
          <LengthRow
            label="Width"
            mm={box.width}
            unit={unit}
            {...limitsOf('ShapePart', 'width_mm')}
            stepMm={1}
            onChange={wide}
          />
          <LengthRow
            label="Height"
            mm={box.height}
            unit={unit}
            {...limitsOf('ShapePart', 'height_mm')}
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
      {sized && <AsLargeAs part={part} onWide={wide} onHigh={high} />}
      <AlignFields part={part} />
      <LengthRow
        label="Middle, to the right"
        mm={middle.x}
        unit={unit}
        {...limitsOf('Placement', 'x')}
        stepMm={1}
        onChange={(mm, from) => place(id, from, (now) => movedBy(mm - (from ?? now.x), 0))}
      />
      <LengthRow
        label="Middle, down"
        mm={middle.y}
        unit={unit}
        {...limitsOf('Placement', 'y')}
        stepMm={1}
        onChange={(mm, from) => place(id, from, (now) => movedBy(0, mm - (from ?? now.y)))}
      />
      <NumberRow
        label="Turned"
        sign="°"
        value={part.place.turn}
        {...limitsOf('Placement', 'turn')}
        onChange={(degrees, from) =>
          place(id, from, (now, { turn }) => about(now.x, now.y, 1, degrees - (from ?? turn)))
        }
      />
    </Section>
  )
})

const middleOf = ({ x, y, width, height }: Box) => ({ x: x + width / 2, y: y + height / 2 })

/** A step is on from what is shown, and is taken at once; what was typed is so much, and waits for the measures. */
const bySteps = (from: number | null, work: (evaluation: Evaluation) => void) => {
  const shown = evaluationNow()
  if (from === null) onceMeasured(work)
  else if (shown) work(shown)
}

/** Makes a part so wide, or so high, about its middle. */
function resize(id: string, mm: number, from: number | null, side: 'width' | 'height', even: boolean) {
  bySteps(from, (evaluation) => {
    const box = viewOf(evaluation, id)?.box
    const by = mm / (from ?? box?.[side] ?? 0)
    if (!box || !Number.isFinite(by)) return
    const [across, down] = even ? [by, by] : side === 'width' ? [by, 1] : [1, by]
    const growth = { across, down, ...middleOf(box) }
    editRecipeOnce({ parts: grown(useDesign.getState().recipe, evaluation, new Set([id]), growth).parts })
  })
}

/** Moves or turns a part by where its middle is, and how it lies. */
function place(id: string, from: number | null, how: (middle: Spot, now: Placement) => Placement) {
  bySteps(from, (evaluation) => {
    const box = viewOf(evaluation, id)?.box
    const part = findPart(useDesign.getState().recipe, id)
    if (box && part) arrangeOnce([id], () => alike([id], how(middleOf(box), part.place)))
  })
}

/** What is done with a part as a whole, in one row. */
export function PartActions({ part }: { part: Part }) {
  const ids = [part.id]
  const hasWords = useDesign((s) => letteringsIn(s.recipe, part.id).length > 0)
  const flip = (turn: number) => turnTogether(ids, turn, true)
  return (
    <Flex gap="1" wrap="wrap" px="4" pt="3.5" role="group" aria-label="This part">
      {hasWords && (
        <Mark name="Another name like this" onClick={() => anotherName(letteringIn(part)?.id ?? '')}>
          <PenLine size={17} />
        </Mark>
      )}
      <Mark name="Copy it beside this one" onClick={() => copy(ids)}>
        <Copy size={17} />
      </Mark>
      <Mark name="Flip left and right" onClick={() => flip(0)}>
        <FlipHorizontal2 size={17} />
      </Mark>
      <Mark name="Flip top and bottom" onClick={() => flip(180)}>
        <FlipVertical2 size={17} />
      </Mark>
      <Mark name="To the front by one" onClick={() => order(part.id, 1)}>
        <ArrowUpToLine size={17} />
      </Mark>
      <Mark name="To the back by one" onClick={() => order(part.id, -1)}>
        <ArrowDownToLine size={17} />
      </Mark>
      <Mark name="Take out" onClick={() => remove(ids)}>
        <Trash2 size={17} />
      </Mark>
    </Flex>
  )
}

const letteringIn = (part: Part) => letteringsIn(useDesign.getState().recipe, part.id)[0]

/** A size taken from something else: the sheet of its film, or another part. */
function AsLargeAs({ part, onWide, onHigh }: { part: Part; onWide: Resize; onHigh: Resize }) {
  const recipe = useDesign((s) => s.recipe)
  const evaluation = useLaterEvaluation()
  const stock = stockOf(recipe.cut, part.film)
  const sheet = {
    width: stock.width_mm - 2 * stock.margin_mm,
    height: stock.height_mm - 2 * stock.margin_mm,
  }
  const others = evaluation?.parts.filter((p) => p.id !== part.id && p.shown && p.box) ?? []
  const options = [
    { value: '', label: '…' },
    { value: SHEET, label: stock.roll ? 'the roll' : 'the sheet' },
    ...others.map(({ id }) => ({ value: id, label: partName(findPart(recipe, id)) })),
  ]
  const take = (id: string, by: 'width' | 'height', resize: Resize) => {
    const mm = id === SHEET ? sheet[by] : viewOf(evaluation, id)?.box?.[by]
    if (mm && mm > 0) resize(mm)
  }
  return (
    <>
      <Row label="As wide as">
        <Choice label="As wide as" value="" options={options} onChange={(id) => take(id, 'width', onWide)} />
      </Row>
      <Row label="As high as">
        <Choice
          label="As high as"
          value=""
          options={stock.roll ? options.filter((o) => o.value !== SHEET) : options}
          onChange={(id) => take(id, 'height', onHigh)}
        />
      </Row>
    </>
  )
}

type Resize = (mm: number, from?: number | null) => void
const SHEET = 'sheet'

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
