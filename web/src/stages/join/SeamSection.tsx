import { Button, chakra, Flex, Text } from '@chakra-ui/react'
import { limitsOf } from '../../shared/api/model'
import { habitAt, withoutHabit } from '../../shared/design/habits'
import { changeOf, type FlowShape, NO_SEAM, type SeamAfter, withLetters } from '../../shared/design/letters'
import { joinOf, type Unit } from '../../shared/design/recipe'
import { editOnce, partNow, useDesign, usePart } from '../../shared/design/store'
import { showLength } from '../../shared/design/units'
import type { Seam } from '../../shared/evaluation/evaluation'
import { useSeams, useUnit } from '../../shared/evaluation/store'
import { LengthRow } from '../../shared/fields/LengthRow'
import { Section } from '../../shared/fields/Panel'
import { Slide } from '../../shared/fields/Slide'
import { ThickenTo } from '../../shared/fields/ThickenTo'
import { Tile } from '../../shared/fields/Tile'
import { Toggle } from '../../shared/fields/Toggle'
import { glanceAt } from '../../shared/view/glance'
import { HabitSection } from './HabitSection'
import { SeamIcon, STATE_WORDS } from './SeamMark'
import { figure, isAsItsLetters, pairName } from './seams'

type Way = NonNullable<SeamAfter['way']>

const WAYS: readonly { value: Way | null; name: string; does: string }[] = [
  { value: null, name: 'Best', does: 'what reads best and holds' },
  { value: 'leave', name: 'Leave', does: 'as the face sets it' },
  { value: 'slide', name: 'Slide', does: 'bring the letters together' },
  { value: 'flow', name: 'Flow', does: 'carry a stroke on, as a curve' },
  { value: 'reach', name: 'Reach', does: 'lengthen a stroke end' },
  { value: 'bridge', name: 'Bridge', does: 'lay a small bar' },
  { value: 'apart', name: 'Keep apart', does: 'a clear gap, on purpose' },
]

const Choice = chakra(Tile, {
  base: {
    display: 'flex',
    justifyContent: 'space-between',
    gap: '3',
    px: '3',
    py: '1.5',
    textAlign: 'left',
  },
})

/** One seam: how it holds, what was done, and what may be done instead. */
export function SeamSection({ left }: { left: number }) {
  const seam = useSeams().find((s) => s.left === left)
  const unit = useUnit()
  const choice = usePart((part) => changeOf(part, left).seam)
  const habit = usePart((part) => habitAt(part, left))
  const auto = usePart((part) => joinOf(part.join).how === 'auto')
  const smooth = usePart((part) => joinOf(part.join).smooth_mm ?? 0)
  const edit = useDesign((s) => s.edit)
  if (!seam) return null

  function decide(change: Partial<SeamAfter>) {
    const part = partNow()
    editOnce(withLetters(part, [left], (now) => ({ seam: { ...now.seam, ...change } })))
  }

  function choose(value: Way | null) {
    decide({ way: value })
    // The best for these words is not what is always done.
    if (value === null && habit) edit(withoutHabit(partNow(), habit))
  }

  const way = choice?.way ?? habit?.seam?.way ?? null
  const trims = choice?.trim ?? habit?.seam?.trim ?? (auto && seam.done !== 'leave' && seam.done !== 'apart')
  return (
    <Section title={`Seam ${pairName(seam.left_text, seam.right_text)}`}>
      <Flex gap="2" align="center">
        <SeamIcon state={seam.state} />
        <Text fontWeight="600">
          {seam.state === 'gap' ? figure(seam, unit) : `${STATE_WORDS[seam.state]}, ${figure(seam, unit)}`}
        </Text>
      </Flex>
      <Details seam={seam} unit={unit} />
      {isAsItsLetters(seam) && <Thicken seam={seam} unit={unit} />}
      <Flex direction="column" gap="1.5" role="radiogroup" aria-label="How to join here">
        {WAYS.map(({ value, name, does }) => (
          <Choice
            key={name}
            type="button"
            role="radio"
            aria-checked={way === value}
            onClick={() => choose(value)}
            onPointerEnter={() => glanceAt({ kind: 'way', left, way: value })}
            onPointerLeave={() => glanceAt(null)}
            onFocus={() => glanceAt({ kind: 'way', left, way: value })}
            onBlur={() => glanceAt(null)}
          >
            <Text fontWeight="550" whiteSpace="nowrap">
              {name}
            </Text>
            <Text fontSize="sm" color="softInk" textAlign="right">
              {value === null && !auto ? 'with the other letters' : does}
            </Text>
          </Choice>
        ))}
      </Flex>
      {way === 'flow' && <FlowFields left={left} shape={choice?.flow ?? null} />}
      <Toggle checked={trims} onChange={(trim) => decide({ trim })}>
        Trim stubs, fill pinholes
      </Toggle>
      <LengthRow
        label="Smooth it by"
        mm={choice?.smooth_mm ?? smooth}
        unit={unit}
        {...limitsOf('SeamAfter', 'smooth_mm')}
        stepMm={unit === 'in' ? 0.254 : 0.1}
        onChange={(smooth_mm) => decide({ smooth_mm })}
      />
      {isDecided(choice) && (
        <Button size="sm" variant="outline" alignSelf="start" onClick={() => decide(NO_SEAM)}>
          Reset this seam
        </Button>
      )}
      <HabitSection left={left} />
    </Section>
  )
}

/** Whether anything was decided for one seam. */
const isDecided = (seam: SeamAfter | null | undefined) =>
  seam != null && Object.values(seam).some((value) => value != null)

/** How a flow is shaped: its ends are dragged on the work, its bend is set here. */
function FlowFields({ left, shape }: { left: number; shape: FlowShape | null }) {
  const edit = useDesign((s) => s.edit)
  return (
    <Flex direction="column" gap="1.5">
      <Text fontSize="sm" color="softInk">
        Drag the two ends of the stroke on the work.
      </Text>
      <Slide
        name="Fullness of the bend"
        {...limitsOf('FlowShape', 'full')}
        step={0.05}
        value={shape?.full ?? 1}
        onChange={(full) =>
          edit(
            withLetters(partNow(), [left], ({ seam }) => ({
              seam: { ...seam, flow: { leaves: null, arrives: null, ...seam?.flow, full } },
            })),
          )
        }
      />
    </Flex>
  )
}

/** One action that makes the lettering heavy enough for the neck that is asked for. */
function Thicken({ seam, unit }: { seam: Seam; unit: Unit }) {
  const neck = usePart((part) => joinOf(part.join).neck_mm ?? 1.2)
  return <ThickenTo part={seam.part} mm={neck} unit={unit} />
}

/** What was done here and what is not well, a line each. */
function Details({ seam, unit }: { seam: Seam; unit: Unit }) {
  const lines = [
    seam.remedy && seam.remedy[0]?.toUpperCase() + seam.remedy.slice(1),
    seam.state === 'weak' &&
      `This material tears where it is narrower than ${showLength(seam.limit_mm, unit)}.`,
    seam.state === 'narrow' && `You asked for ${showLength(seam.asked_mm, unit)}.`,
    isAsItsLetters(seam) &&
      `The letters’ own strokes give no more than ${showLength(seam.given_mm, unit)}: thicker lettering would.`,
    seam.squeeze > 0.5 &&
      `Slid by ${Math.round(seam.squeeze * 100)} % of ${seam.left_text}’s width: look whether it still reads well.`,
    seam.covered > 0.1 && `${Math.round(seam.covered * 100)} % of a letter’s hole is covered.`,
    seam.stubs > 0 &&
      `${seam.stubs === 1 ? 'A stroke end sticks' : `${seam.stubs} stroke ends stick`} out on the far side.`,
    seam.pinholes > 0 && `${seam.pinholes === 1 ? 'A hole' : `${seam.pinholes} holes`} too small to weed.`,
    seam.notches > 0 && 'A deep, narrow notch; smooth seams to round it.',
  ].filter((line): line is string => typeof line === 'string' && line !== '')
  return lines.map((line) => (
    <Text key={line} fontSize="sm" color="softInk">
      {line}
    </Text>
  ))
}
