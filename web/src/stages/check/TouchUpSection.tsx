import { Button, chakra, Flex, SimpleGrid, Text } from '@chakra-ui/react'
import { X } from 'lucide-react'
import { create } from 'zustand'
import type { TouchUp, Unit } from '../../shared/design/recipe'
import { type TouchKind, useSelection } from '../../shared/design/selection'
import { editRecipeOnce, useDesign } from '../../shared/design/store'
import { showNumber } from '../../shared/design/units'
import { useFindings } from '../../shared/evaluation/store'
import { LengthRow } from '../../shared/fields/LengthRow'
import { Section } from '../../shared/fields/Panel'
import { ProblemNote } from '../../shared/fields/ProblemNote'

interface Tool {
  kind: TouchKind
  name: string
  how: string
  /** The measure the tool takes, if any. */
  size?: string
}

export const TOOLS: readonly Tool[] = [
  { kind: 'smooth', name: 'Smooth a stretch', how: 'Click the two ends of the stretch to be smoothed.' },
  { kind: 'round', name: 'Round corner', how: 'Click a corner.', size: 'Radius' },
  { kind: 'fill', name: 'Fill hole', how: 'Click inside a hole.' },
  { kind: 'cut', name: 'Take sliver off', how: 'Click what sticks out.', size: 'Thinner than' },
  { kind: 'thicken', name: 'Thicken', how: 'Click a thin place.', size: 'To a width of' },
  { kind: 'close', name: 'Close gap', how: 'Click in a narrow gap.', size: 'Narrower than' },
]

/** What was done by the outline's points. */
const BY_POINTS: Partial<Record<TouchKind, string>> = {
  remove: 'Point taken out',
  move: 'Point moved',
  smooth: 'Smoothed',
  insert: 'Point put in',
  before: 'Curve pulled',
  after: 'Curve pulled',
}

/** Tools that move an edge, and are told how far. */
const OF_EDGES: readonly TouchKind[] = ['smooth', 'round']

interface TouchSizes {
  sizes: Record<string, number>
  /** How far the outline moved by the last touch-up, at most. */
  movedMm: number | null
  setSize: (kind: TouchKind, mm: number) => void
}

/** What the tools were last set to. */
export const useTouchSizes = create<TouchSizes>()((set) => ({
  sizes: { round: 1, cut: 0.5, thicken: 1, close: 0.4 },
  movedMm: null,
  setSize: (kind, mm) => set(({ sizes }) => ({ sizes: { ...sizes, [kind]: mm } })),
}))

const ToolButton = chakra('button', {
  base: {
    borderWidth: '1px',
    borderColor: 'edge',
    borderRadius: 'md',
    bg: 'card',
    px: '2',
    py: '1.5',
    fontSize: 'sm',
    fontWeight: '550',
    cursor: 'pointer',
    _hover: { borderColor: 'ink' },
    '&[aria-pressed=true]': { bg: 'ink', color: 'card', borderColor: 'ink' },
  },
})

/** Repairs of the outline itself: the tools, and what was done with them. */
export function TouchUpSection({ unit }: { unit: Unit }) {
  const { tool: inHand, use } = useSelection()
  const { sizes, setSize } = useTouchSizes()
  const kind = inHand?.kind === 'touch' ? inHand.touch : null
  const tool = TOOLS.find((t) => t.kind === kind)
  const points = inHand?.kind === 'points'
  return (
    <Section title="Touch up the outline">
      <ToolButton
        type="button"
        aria-pressed={points}
        onClick={() => {
          useTouchSizes.setState({ movedMm: null })
          use(points ? null : { kind: 'points' })
        }}
      >
        Points and curves (P)
      </ToolButton>
      {points && (
        <>
          <Text color="softInk" fontSize="sm" role="status">
            Drag a point, or a curve by its handles. Double-click the outline to put a point in. Over a point:
            Delete takes it out, S makes it smooth. Esc lets go.
          </Text>
          <Trouble />
          <Moved unit={unit} />
        </>
      )}
      <SimpleGrid columns={2} gap="1.5" role="group" aria-label="Touch-ups">
        {TOOLS.map(({ kind: one, name }) => (
          <ToolButton
            key={one}
            type="button"
            aria-pressed={kind === one}
            onClick={() => {
              useTouchSizes.setState({ movedMm: null })
              use(kind === one ? null : { kind: 'touch', touch: one })
            }}
          >
            {name}
          </ToolButton>
        ))}
      </SimpleGrid>
      {tool && (
        <>
          <Text color="softInk" fontSize="sm" role="status">
            {tool.how} Esc lets go of the tool.
          </Text>
          {tool.size && (
            <LengthRow
              label={tool.size}
              mm={sizes[tool.kind] ?? 1}
              unit={unit}
              min={0.05}
              max={50}
              stepMm={unit === 'in' ? 0.254 : 0.1}
              onChange={(mm) => setSize(tool.kind, mm)}
            />
          )}
          <Trouble />
          {OF_EDGES.includes(tool.kind) && <Moved unit={unit} />}
        </>
      )}
      <Done />
    </Section>
  )
}

function Trouble() {
  const problem = useSelection((s) => s.problem)
  return problem && <ProblemNote what={problem.message} todo={problem.todo} />
}

/** How far the outline moved by what was done last. */
function Moved({ unit }: { unit: Unit }) {
  const movedMm = useTouchSizes((s) => s.movedMm)
  const problem = useSelection((s) => s.problem)
  if (movedMm === null || problem) return null
  return (
    <Text fontSize="sm" data-testid="moved">
      Done. The outline moved by up to {showNumber(movedMm, unit, unit === 'in' ? 3 : 2)} {unit}.
    </Text>
  )
}

function Done() {
  const findings = useFindings()
  const touchUps = useDesign((s) => s.recipe.touch_ups)
  if (touchUps.length === 0) return null
  const lost = new Map(findings?.lost.map((l) => [l.number, l.what]))
  return (
    <Flex as="ul" direction="column" gap="1" aria-label="Touch-ups done">
      {touchUps.map((touchUp, number) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a touch-up is told by its place in the row
        <OneDone key={number} touchUp={touchUp} number={number} lost={lost.get(number)} />
      ))}
    </Flex>
  )
}

/** Whether a stretch is no more than one point. */
const isOne = ({ at, to }: TouchUp) => to == null || (at.x === to.x && at.y === to.y)

function OneDone({ touchUp, number, lost }: { touchUp: TouchUp; number: number; lost: string | undefined }) {
  const recipe = useDesign((s) => s.recipe)
  const byPoint = touchUp.kind !== 'smooth' || isOne(touchUp) ? BY_POINTS[touchUp.kind] : undefined
  const name = byPoint ?? TOOLS.find((t) => t.kind === touchUp.kind)?.name ?? touchUp.kind
  const drop = () => editRecipeOnce({ ...recipe, touch_ups: recipe.touch_ups.filter((_, n) => n !== number) })
  function redo() {
    drop()
    useSelection.getState().use(byPoint ? { kind: 'points' } : { kind: 'touch', touch: touchUp.kind })
  }
  if (lost)
    return (
      <Flex
        as="li"
        listStyleType="none"
        direction="column"
        gap="1.5"
        bg="thinTint"
        p="2"
        borderRadius="md"
        data-lost
      >
        <Text fontSize="sm">{lost}, the place is not there any more. It was left out.</Text>
        <Flex gap="2">
          <Button size="xs" variant="outline" bg="card" onClick={redo}>
            Do it anew
          </Button>
          <Button size="xs" variant="outline" bg="card" onClick={drop}>
            Drop it
          </Button>
        </Flex>
      </Flex>
    )
  return (
    <Flex as="li" listStyleType="none" justify="space-between" align="center" fontSize="sm" data-touch-up>
      <Text>{`${number + 1}. ${name}`}</Text>
      <Button
        size="xs"
        variant="ghost"
        aria-label={`Drop touch-up ${number + 1}`}
        title="Drop it"
        minWidth="7"
        px="0"
        onClick={drop}
      >
        <X size={15} />
      </Button>
    </Flex>
  )
}
