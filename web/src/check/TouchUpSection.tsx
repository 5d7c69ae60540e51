import { Button, chakra, Flex, SimpleGrid, Text } from '@chakra-ui/react'
import { X } from 'lucide-react'
import { create } from 'zustand'
import type { Problem, Schemas } from '../api/client'
import type { TouchUp, Unit } from '../design/recipe'
import { takeRecipe, useDesign } from '../design/store'
import { showNumber } from '../design/units'
import { LengthRow } from '../parts/LengthRow'
import { Section } from '../parts/Panel'
import { ProblemNote } from '../parts/ProblemNote'
import type { Findings } from './findings'

export type TouchKind = Schemas['TouchUpIn']['kind']

interface Tool {
  kind: TouchKind
  name: string
  how: string
  /** The measure the tool takes, if any. */
  size?: string
}

export const TOOLS: readonly Tool[] = [
  { kind: 'remove', name: 'Point out', how: 'Click a point: it goes, and a smooth curve takes its place.' },
  { kind: 'move', name: 'Move point', how: 'Drag a point to where it should be.' },
  { kind: 'smooth', name: 'Smooth', how: 'Click the two ends of the stretch to be smoothed.' },
  { kind: 'round', name: 'Round corner', how: 'Click a corner.', size: 'Radius' },
  { kind: 'fill', name: 'Fill hole', how: 'Click inside a hole.' },
  { kind: 'cut', name: 'Sliver off', how: 'Click what sticks out.', size: 'Thinner than' },
  { kind: 'thicken', name: 'Thicken', how: 'Click a thin place.', size: 'To a width of' },
  { kind: 'close', name: 'Close gap', how: 'Click in a narrow gap.', size: 'Narrower than' },
]

/** Tools that move an edge, and are told how far. */
const OF_EDGES: readonly TouchKind[] = ['remove', 'move', 'smooth', 'round']

interface TouchState {
  kind: TouchKind | null
  sizes: Record<string, number>
  problem: Problem | null
  /** How far the outline moved by the last one, at most. */
  movedMm: number | null
  use: (kind: TouchKind | null) => void
  setSize: (kind: TouchKind, mm: number) => void
}

export const useTouch = create<TouchState>()((set) => ({
  kind: null,
  sizes: { round: 1, cut: 0.5, thicken: 1, close: 0.4 },
  problem: null,
  movedMm: null,
  use: (kind) => set({ kind, problem: null, movedMm: null }),
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
export function TouchUpSection({ findings, unit }: { findings: Findings | undefined; unit: Unit }) {
  const { kind, sizes, use, setSize, problem, movedMm } = useTouch()
  const tool = TOOLS.find((t) => t.kind === kind)
  return (
    <Section title="Touch up the outline">
      <SimpleGrid columns={2} gap="1.5" role="group" aria-label="Touch-ups">
        {TOOLS.map(({ kind: one, name }) => (
          <ToolButton
            key={one}
            type="button"
            aria-pressed={kind === one}
            onClick={() => use(kind === one ? null : one)}
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
          {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
          {movedMm !== null && !problem && OF_EDGES.includes(tool.kind) && (
            <Text fontSize="sm" data-testid="moved">
              Done. The outline moved by up to {showNumber(movedMm, unit, unit === 'in' ? 3 : 2)} {unit}.
            </Text>
          )}
        </>
      )}
      <Done findings={findings} />
    </Section>
  )
}

function Done({ findings }: { findings: Findings | undefined }) {
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

function OneDone({ touchUp, number, lost }: { touchUp: TouchUp; number: number; lost: string | undefined }) {
  const recipe = useDesign((s) => s.recipe)
  const name = TOOLS.find((t) => t.kind === touchUp.kind)?.name ?? touchUp.kind
  const drop = () => takeRecipe({ ...recipe, touch_ups: recipe.touch_ups.filter((_, n) => n !== number) })
  function redo() {
    drop()
    useTouch.getState().use(touchUp.kind)
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
