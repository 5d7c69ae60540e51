import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { memo, useState } from 'react'
import { counted } from '../../shared/design/counted'
import { type Habit, habitFor, withHabit, withoutHabit } from '../../shared/design/habits'
import { NO_SEAM } from '../../shared/design/letters'
import type { Unit } from '../../shared/design/recipe'
import { chooseNodes, closeShape, useOpenShape, useSelection } from '../../shared/design/selection'
import { asOneStep, editOnce, partNow, usePart } from '../../shared/design/store'
import { usePartView, useUnit } from '../../shared/evaluation/store'
import { LengthRow } from '../../shared/fields/LengthRow'
import { Panel, Section } from '../../shared/fields/Panel'
import { Toggle } from '../../shared/fields/Toggle'
import { Notes, type Troubles } from '../../shared/notes/Notes'
import { StepRow } from './StepRow'
import { editNodes, type LetterNodes, moveNodes, shapeOf, textOf, useNodes, withShape } from './shapes'
import { useKeepHabits } from './useHabits'

/** The shape of one letter: its points and stroke ends, while it stays text. */
export const ShapePanel = memo(function ShapePanel(troubles: Troubles) {
  const open = useOpenShape()
  return open ? <OpenShape open={open} troubles={troubles} /> : null
})

type Open = NonNullable<ReturnType<typeof useOpenShape>>

function OpenShape({ open, troubles }: { open: Open; troubles: Troubles }) {
  const { part: partId, letter: id, ofKind } = open
  const { nodes } = useNodes(partId, id)
  const text = usePart((part) => textOf(part, id))
  const shape = usePart((part) => shapeOf(part, id))
  const waiting = usePartView()?.made?.waiting_shapes.includes(text) ?? false
  const unit = useUnit()
  const setOfKind = (on: boolean) => useSelection.getState().select({ ...open, ofKind: on })
  return (
    <Panel name="Shape of a letter">
      <Box overflowY="auto" flex="1" minHeight="0">
        <Notes {...troubles} />
        <Section title={`Shape of ${text}`}>
          <Text color="softInk" fontSize="sm">
            Drag a point or a stroke end. Drag over empty ground to take several points; Shift adds to them,
            and holds a drag to one direction.
          </Text>
          <Toggle checked={ofKind} onChange={setOfKind}>
            {`Every ${text} in the words`}
          </Toggle>
          {waiting && (
            <Text fontSize="sm" color="thin" role="status">
              This letter was changed on another outline. The change waits until that face is back; a new one
              replaces it.
            </Text>
          )}
          <Flex gap="2" wrap="wrap">
            <Button size="sm" bg="ink" color="card" onClick={closeShape}>
              Done
            </Button>
            {shape && (
              <Button
                size="sm"
                variant="outline"
                onClick={() => {
                  editOnce(withShape(partNow(), id, null, ofKind), partId)
                  chooseNodes([])
                }}
              >
                As the face draws it
              </Button>
            )}
            {shape && Array.from(text).length === 1 && <AlwaysDrawn letter={text} id={id} shape={shape} />}
          </Flex>
        </Section>
        {nodes && <Points nodes={nodes} chosen={open.nodes} />}
        {nodes && <End nodes={nodes} chosen={open.end} unit={unit} />}
        <Section title="Arrow keys">
          <StepRow label="Move by" unit={unit} />
        </Section>
      </Box>
    </Panel>
  )
}

/** What was made of a letter, made the way in which the shop always draws it. */
function AlwaysDrawn({
  letter,
  id,
  shape,
}: {
  letter: string
  id: number
  shape: NonNullable<Habit['shape']>
}) {
  const part = usePart((now) => now)
  const { keep, forget } = useKeepHabits()
  const kept = habitFor(part, letter)
  function always() {
    const habit: Habit = { family: part.face.family, letters: letter, seam: NO_SEAM, after: 0, shape }
    editOnce({ ...withShape(part, id, null, true), ...withHabit(part, habit) })
    keep.mutate(habit)
  }
  function noLonger(habit: Habit) {
    editOnce(withoutHabit(part, habit))
    forget.mutate(habit)
  }
  return kept?.shape ? (
    <Button size="sm" variant="outline" onClick={() => noLonger(kept)}>
      {`No longer always draw ${letter} so`}
    </Button>
  ) : (
    <Button size="sm" variant="outline" onClick={always}>
      {`Always draw ${letter} so`}
    </Button>
  )
}

function Points({ nodes, chosen }: { nodes: LetterNodes; chosen: readonly number[] }) {
  const known = nodes.nodes.filter((n) => chosen.includes(n.name))
  if (known.length === 0)
    return (
      <Section title="Points">
        <Text fontSize="sm" color="softInk">
          No point is chosen.
        </Text>
      </Section>
    )
  const act = (kind: 'remove' | 'smooth' | 'sharp') => () => {
    asOneStep(() => editNodes(nodes, { kind, nodes: [...chosen] }))
    if (kind === 'remove') chooseNodes([])
  }
  return (
    <Section title={counted(known.length, 'point')}>
      <Flex gap="2" wrap="wrap">
        <Button size="sm" variant="outline" onClick={act('remove')}>
          Take out
        </Button>
        <Button size="sm" variant="outline" onClick={act('smooth')}>
          Make smooth
        </Button>
        <Button size="sm" variant="outline" onClick={act('sharp')}>
          Make sharp
        </Button>
        {known.length === 1 && (
          <Button
            size="sm"
            variant="outline"
            onClick={() => {
              asOneStep(() => editNodes(nodes, { kind: 'insert', nodes: [...chosen], new: nodes.next }))
              chooseNodes([nodes.next])
            }}
          >
            Add one after it
          </Button>
        )}
      </Flex>
    </Section>
  )
}

/** A chosen stroke end: made longer by a typed length, or as far out as another. */
function End({ nodes, chosen, unit }: { nodes: LetterNodes; chosen: number | null; unit: Unit }) {
  const end = chosen === null ? undefined : nodes.ends[chosen]
  const [by, setBy] = useState(1)
  if (!end) return null
  function longer(mm: number) {
    if (!end) return
    asOneStep(() => moveNodes(nodes, end.dx * mm, end.dy * mm))
  }
  return (
    <Section title="Stroke end">
      <LengthRow
        label="Longer by"
        mm={by}
        unit={unit}
        min={-100}
        max={100}
        stepMm={unit === 'in' ? 0.254 : 0.1}
        onChange={setBy}
      />
      <Button size="sm" variant="outline" alignSelf="start" onClick={() => longer(by)}>
        Lengthen it
      </Button>
      {nodes.ends.length > 1 && (
        <>
          <Text fontSize="sm">Or as far out as another end:</Text>
          <Flex gap="1.5" wrap="wrap" role="group" aria-label="As far out as">
            {nodes.ends.map((other, n) =>
              n === chosen ? null : (
                <Button
                  // biome-ignore lint/suspicious/noArrayIndexKey: ends are told by their numbers
                  key={n}
                  size="xs"
                  variant="outline"
                  onClick={() => longer((other.x - end.x) * end.dx + (other.y - end.y) * end.dy)}
                >
                  {`End ${n + 1}`}
                </Button>
              ),
            )}
          </Flex>
        </>
      )}
    </Section>
  )
}
