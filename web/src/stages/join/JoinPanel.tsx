import { Box, Button, Flex, NativeSelect, Text } from '@chakra-ui/react'
import { memo, useDeferredValue, useEffect, useRef } from 'react'
import { limitsOf } from '../../shared/api/model'
import { counted } from '../../shared/design/counted'
import { NO_SEAM, withLetters } from '../../shared/design/letters'
import { chooseMaterial } from '../../shared/design/materials'
import { type JoinOptions, joinOf, type Unit } from '../../shared/design/recipe'
import { useChosenLetters, useSelection } from '../../shared/design/selection'
import { asOneStep, editOnce, partNow, useDesign, usePart } from '../../shared/design/store'
import { showLength, showNumber } from '../../shared/design/units'
import { useMaterials } from '../../shared/design/useMaterials'
import { piecesOf, type Seam } from '../../shared/evaluation/evaluation'
import { useEvaluations, useLaterEvaluation, useSeams, useUnit } from '../../shared/evaluation/store'
import { Expander } from '../../shared/fields/Expander'
import { HoldToSee } from '../../shared/fields/HoldToSee'
import { LengthRow } from '../../shared/fields/LengthRow'
import { Panel, Row, Section } from '../../shared/fields/Panel'
import { Segments } from '../../shared/fields/Segments'
import { Slide } from '../../shared/fields/Slide'
import { ThickenTo } from '../../shared/fields/ThickenTo'
import { Toggle } from '../../shared/fields/Toggle'
import { Notes, type Troubles } from '../../shared/notes/Notes'
import { useSteps } from '../../shared/view/view'
import { BridgeSection } from './BridgeSection'
import { JoinWays } from './JoinWays'
import { LetterSection } from './LetterSection'
import { useShowsLetterGaps } from './letterGaps'
import { MARK_WAYS } from './markWays'
import { SeamSection } from './SeamSection'
import { ShapePicker } from './ShapePicker'
import { StepRow } from './StepRow'
import { holds, isAsItsLetters, narrowest } from './seams'

/** The Join stage: all letters by one action, one seam, one letter. */
export const JoinPanel = memo(function JoinPanel(troubles: Troubles) {
  // A letter that is taken hold of moves at once; the panel follows.
  const seam = useDeferredValue(useSelection(({ selection: s }) => (s.kind === 'seam' ? s.left : null)))
  const letters = useDeferredValue(useChosenLetters())
  const unit = useUnit()
  const chosen = useRef<HTMLDivElement>(null)
  // What can be done here comes into sight with what is chosen on the work.
  // biome-ignore lint/correctness/useExhaustiveDependencies: whenever something else is chosen
  useEffect(() => {
    chosen.current?.scrollIntoView({ block: 'start' })
  }, [seam, letters[0]])
  return (
    <Panel name="Join">
      <Box overflowY="auto" flex="1" minHeight="0">
        <Notes {...troubles} />
        <Section title="Join the letters">
          <JoinAll unit={unit} />
          <JoinWays />
          <Rhythm />
          <Targets unit={unit} />
        </Section>
        {(seam !== null || letters.length > 0) && (
          <Box ref={chosen}>
            {seam !== null && <SeamSection left={seam} />}
            {letters.length > 0 && <LetterSection />}
          </Box>
        )}
        <BridgeSection />
        <Section title="Moving by hand">
          {letters.length === 0 && (
            <Text color="softInk" fontSize="sm">
              Click a seam or a letter, then use the arrow keys; or drag the letter itself. Shift and click
              takes several letters.
            </Text>
          )}
          <Steps unit={unit} />
          <ResetAll />
        </Section>
      </Box>
    </Panel>
  )
})

function JoinAll({ unit }: { unit: Unit }) {
  const join = usePart((part) => part.join)
  const edit = useDesign((s) => s.edit)
  const before = useEvaluations((s) => s.before)
  const seams = useSeams()
  const evaluation = useLaterEvaluation()
  const loose = seams.filter((s) => !holds(s) && !isAsItsLetters(s)).length
  const thin = seams.filter((s) => s.state === 'weak' && isAsItsLetters(s))
  const auto = join?.how === 'auto'
  const pieces = piecesOf(evaluation).length

  function joinAll() {
    asOneStep(() => useEvaluations.setState({ before: { pieces, narrowest: narrowest(seams) } }))
    const part = partNow()
    // What was decided for single seams gives way; letters moved by hand stay where they are.
    const decided = Object.keys(part.letters ?? {}).map(Number)
    const freed = withLetters(part, decided, () => ({ seam: NO_SEAM }))
    edit({ ...freed, join: { ...joinOf(part.join), how: 'auto' } })
  }

  function asSet() {
    asOneStep(() => useEvaluations.setState({ before: null }))
    edit({ join: { ...joinOf(partNow().join), how: 'set' } })
  }

  return (
    <>
      <Text color="softInk" data-testid="seam-count">
        {describeSeams(seams)}
      </Text>
      {auto && loose === 0 ? (
        <Flex direction="column" gap="1.5">
          <Text fontWeight="600" color="hold">
            All letters are joined, and stay so as you type.
          </Text>
          {thin.length > 0 && <ThinLetters seams={thin} unit={unit} />}
          {evaluation && (
            <Text fontSize="sm" color="softInk" data-testid="counted">
              {onTheOutline(pieces, Math.min(evaluation.loose_marks, Math.max(0, pieces - 1)))}
            </Text>
          )}
          {before && (
            <Text fontSize="sm" color="softInk" data-testid="before-after">
              Before: {counted(before.pieces, 'piece')}
              {before.narrowest !== null && `, narrowest neck ${showNumber(before.narrowest, unit)} ${unit}`}.
              Now: {counted(pieces, 'piece')}
              {narrowest(seams) !== null
                ? `, narrowest neck ${showNumber(narrowest(seams) ?? 0, unit)} ${unit}.`
                : '.'}
            </Text>
          )}
          <Button size="sm" variant="outline" onClick={asSet} alignSelf="start">
            Back to how the face sets them
          </Button>
        </Flex>
      ) : (
        <>
          <Button
            bg="knife"
            color="card"
            size="lg"
            fontWeight="700"
            _hover={{ bg: 'knifeDeep' }}
            onClick={joinAll}
          >
            Join all letters
          </Button>
          <Text fontSize="sm" color="softInk" textAlign="center" mt="-1">
            moves what must move, leaves the rest
          </Text>
          {auto && (
            <Text fontSize="sm" color="softInk">
              What does not hold was moved by hand or decided for its seam: click the seam to change that.
            </Text>
          )}
          {auto && (
            <Button size="sm" variant="outline" onClick={asSet} alignSelf="start">
              Back to how the face sets them
            </Button>
          )}
        </>
      )}
    </>
  )
}

/** Joints that are weak because the letters themselves are thin, and what makes them hold. */
function ThinLetters({ seams, unit }: { seams: readonly Seam[]; unit: Unit }) {
  const limit = Math.max(...seams.map((seam) => seam.limit_mm))
  const part = seams[0]?.part ?? ''
  return (
    <>
      <Text fontSize="sm" color="thin">
        {`${counted(seams.length, 'joint is', 'joints are')} weak, for the letters themselves are thin: this material tears below ${showLength(limit, unit)}.`}
      </Text>
      <ThickenTo part={part} mm={limit} unit={unit} />
    </>
  )
}

/** What comes off, as it was counted on the outline. */
function onTheOutline(pieces: number, marks: number) {
  const loose = marks > 0 ? `, ${counted(marks, 'dot or accent', 'dots and accents')} among them` : ''
  return `Counted on the outline: ${counted(pieces, 'piece')}${loose}.`
}

function describeSeams(seams: readonly Seam[]): string {
  if (seams.length === 0) return 'There is no seam here: a seam is where one letter meets the next.'
  const of = (state: string) => seams.filter((s) => s.state === state).length
  const parts = [
    [of('joined'), 'holds', 'hold'],
    [of('lettering'), 'is as strong as its letters', 'are as strong as their letters'],
    [of('narrow'), 'is narrower than asked', 'are narrower than asked'],
    [of('weak'), 'is weak', 'are weak'],
    [of('touching'), 'only touches', 'only touch'],
    [of('gap'), 'has a gap', 'have a gap'],
  ] as const
  const said = parts.filter(([n]) => n > 0).map(([n, one, many]) => counted(n, one, many))
  return `${counted(seams.length, 'seam')}: ${said.join(', ')}.`
}

/** How letters are brought together, and what shows it: live, and compared with the face's own setting. */
function Rhythm() {
  const join = joinOf(usePart((part) => part.join))
  const edit = useDesign((s) => s.edit)
  const white = useShowsLetterGaps()
  const auto = join.how === 'auto'
  return (
    <>
      {auto && (
        <Slide
          name="How tightly letters are joined"
          {...limitsOf('JoinOptions', 'tight')}
          step={0.05}
          value={join.tight ?? 0.5}
          onChange={(tight) => edit({ join: { ...joinOf(partNow().join), tight } })}
          ends={['As drawn', 'Tightly joined']}
        />
      )}
      {auto && <HoldToSee kind="before">Hold to compare with the face (B)</HoldToSee>}
      <Toggle checked={white.shown} onChange={white.show}>
        Show the white between letters
      </Toggle>
    </>
  )
}

const OWN = 'own'

function Targets({ unit }: { unit: Unit }) {
  const join = joinOf(usePart((part) => part.join))
  const edit = useDesign((s) => s.edit)
  const rows = useMaterials().data ?? []
  const known = rows.map((row) => row.material)
  const material = known.find((m) => Math.abs(m.joint_mm - join.neck_mm) < 1e-6)
  const cutFrom = useDesign((s) => s.recipe.material)
  const named = known.find((m) => m.name === cutFrom.name)
  const shown = named && Math.abs(named.joint_mm - join.neck_mm) < 1e-6 ? named : material
  const change = (part: Partial<JoinOptions>) => edit({ join: { ...joinOf(partNow().join), ...part } })
  return (
    <>
      <Flex direction="column" gap="1.5">
        <Text>Dots and accents</Text>
        <Segments
          label="Dots and accents"
          value={join.marks ?? 'keep'}
          options={MARK_WAYS}
          onChange={(marks) => {
            asOneStep(() => change({ marks }))
          }}
          fill
        />
        {join.marks === 'bridge' && (
          <MarkBars
            mm={join.mark_bar_mm ?? null}
            unit={unit}
            onChange={(mark_bar_mm) => change({ mark_bar_mm })}
          />
        )}
        <Expander label="A shape in their place" open={join.mark_shape !== null}>
          <ShapePicker
            label="Shape for dots"
            value={join.mark_shape ?? null}
            onChange={(mark_shape) => {
              asOneStep(() => change({ mark_shape }))
            }}
          />
        </Expander>
      </Flex>
      <Row label="Material">
        <NativeSelect.Root size="sm">
          <NativeSelect.Field
            aria-label="Material"
            value={shown?.name ?? OWN}
            borderColor="edge"
            bg="card"
            onChange={(e) => {
              const chosen = known.find((m) => m.name === e.target.value)
              if (!chosen) return
              chooseMaterial(chosen.name, rows)
              change({ neck_mm: chosen.joint_mm })
            }}
          >
            {known.map((m) => (
              <option key={m.name} value={m.name}>
                {m.name}
              </option>
            ))}
            <option value={OWN}>Own value</option>
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      </Row>
      <LengthRow
        label="Neck at least"
        mm={join.neck_mm ?? 1.2}
        unit={unit}
        {...limitsOf('JoinOptions', 'neck_mm')}
        stepMm={unit === 'in' ? 0.254 : 0.1}
        onChange={(neck_mm) => change({ neck_mm })}
      />
      <LengthRow
        label="Smooth seams by"
        mm={join.smooth_mm ?? 0}
        unit={unit}
        {...limitsOf('JoinOptions', 'smooth_mm')}
        stepMm={unit === 'in' ? 0.254 : 0.1}
        onChange={(smooth_mm) => change({ smooth_mm })}
      />
    </>
  )
}

/** How wide the bars are that tie dots and accents: in the strokes' weight, or as typed. */
function MarkBars({
  mm,
  unit,
  onChange,
}: {
  mm: number | null
  unit: Unit
  onChange: (mm: number | null) => void
}) {
  return (
    <>
      <Toggle
        checked={mm === null}
        onChange={(own) => {
          asOneStep(() => onChange(own ? null : 1.2))
        }}
      >
        Their bars as heavy as the strokes
      </Toggle>
      {mm !== null && (
        <LengthRow
          label="Width of their bars"
          mm={mm}
          unit={unit}
          {...limitsOf('JoinOptions', 'mark_bar_mm')}
          stepMm={unit === 'in' ? 0.254 : 0.1}
          onChange={onChange}
        />
      )}
    </>
  )
}

function Steps({ unit }: { unit: Unit }) {
  const { carry, setCarry } = useSteps()
  return (
    <>
      <StepRow label="Arrow keys move by" unit={unit} />
      <Toggle checked={carry} onChange={setCarry}>
        Carry the rest of the line along
      </Toggle>
    </>
  )
}

function ResetAll() {
  const changed = usePart((part) => Object.keys(part.letters ?? {}).length)
  if (changed === 0) return null
  return (
    <Button
      size="sm"
      variant="outline"
      alignSelf="start"
      onClick={() => {
        editOnce({ letters: {}, kinds: {} })
      }}
    >
      Reset all {changed === 1 ? 'that was done to 1 letter' : `that was done to ${changed} letters`}
    </Button>
  )
}
