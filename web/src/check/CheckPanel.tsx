import { Box, Button, Flex, NativeSelect, Text } from '@chakra-ui/react'
import { useMutation } from '@tanstack/react-query'
import { memo } from 'react'
import { asProblem } from '../api/client'
import type { Unit } from '../design/recipe'
import { endStep, useDesign } from '../design/store'
import { type Findings, useFindings, useUnit } from '../evaluation/store'
import { LengthRow } from '../fields/LengthRow'
import { Notes, type Troubles } from '../fields/Notes'
import { Panel, Row, Section } from '../fields/Panel'
import { ProblemNote } from '../fields/ProblemNote'
import { thickenUntil } from '../letter/thicken'
import { FindingList } from './FindingList'
import { FindingMark } from './FindingMark'
import { tally } from './findings'
import { ReadySection } from './ReadySection'
import { TouchUpSection } from './TouchUpSection'
import { useMaterials } from './useMaterials'

/** The Check stage: what would go wrong on the material, and how to repair it. */
export const CheckPanel = memo(function CheckPanel(troubles: Troubles) {
  const findings = useFindings()
  const unit = useUnit()
  return (
    <Panel name="Check">
      <Box overflowY="auto" flex="1" minHeight="0">
        <Notes {...troubles} />
        <Section title="Before the cut">
          <Verdict findings={findings} />
          <Material />
        </Section>
        <ReadySection />
        {findings && <FindingList findings={findings} />}
        {findings && <ThickenAll findings={findings} />}
        <TouchUpSection unit={unit} />
        {findings && <LimitFields findings={findings} unit={unit} />}
      </Box>
    </Panel>
  )
})

function Verdict({ findings }: { findings: Findings | undefined }) {
  if (!findings) return <Text color="softInk">Nothing to check yet.</Text>
  const { repair, look, known } = tally(findings)
  return (
    <Box data-testid="verdict">
      <Flex align="center" gap="2">
        <FindingMark blocks={repair > 0} look={look > 0} />
        <Text fontWeight="650" fontSize="lg">
          {repair > 0 ? `${repair} to repair` : 'Clear to cut'}
        </Text>
      </Flex>
      <Text color="softInk" fontSize="sm">
        {[look > 0 && `${look} to look at`, known > 0 && `${known} accepted`].filter(Boolean).join(', ')}
      </Text>
    </Box>
  )
}

/** Where many strokes and joints are thin, one remedy for all of them. */
function ThickenAll({ findings }: { findings: Findings }) {
  const open = findings.findings.filter((f) => !f.accepted)
  const thin = open.filter((f) => f.kind === 'hairline' || f.kind === 'neck')
  const part = open.find((f) => f.kind === 'hairline')?.part
  const mutation = useMutation({
    mutationFn: (partId: string) => thickenUntil(partId, Math.max(0.05, findings.wide_enough_mm)),
  })
  const problem = mutation.error ? asProblem(mutation.error) : null
  if (thin.length < 3 || !part) return null
  return (
    <Section title="All edges alike">
      <Button size="sm" variant="outline" loading={mutation.isPending} onClick={() => mutation.mutate(part)}>
        Thicken all the lettering
      </Button>
      <Text fontSize="sm" color="softInk">
        {thin.length} strokes and joints are thin: all edges go outwards until the thinnest stroke holds.
      </Text>
      {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
    </Section>
  )
}

const OWN = 'own'

function Material() {
  const material = useDesign((s) => s.recipe.material)
  const editRecipe = useDesign((s) => s.editRecipe)
  const known = useMaterials().data ?? []
  return (
    <Row label="Material">
      <NativeSelect.Root size="sm">
        <NativeSelect.Field
          aria-label="Material"
          value={material.limits ? OWN : material.name}
          borderColor="edge"
          bg="card"
          onChange={(e) => {
            endStep()
            if (e.target.value !== OWN) editRecipe({ material: { name: e.target.value, limits: null } })
          }}
        >
          {known.map((m) => (
            <option key={m.name} value={m.name}>
              {m.name}
            </option>
          ))}
          {material.limits && <option value={OWN}>Own limits</option>}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Row>
  )
}

const LIMITS = [
  { key: 'neck_mm', name: 'Narrowest neck' },
  { key: 'stroke_mm', name: 'Narrowest stroke' },
  { key: 'hole_mm', name: 'Smallest hole' },
  { key: 'piece_mm', name: 'Smallest piece' },
  { key: 'gap_mm', name: 'Narrowest gap' },
] as const

function LimitFields({ findings, unit }: { findings: Findings; unit: Unit }) {
  const material = useDesign((s) => s.recipe.material)
  const editRecipe = useDesign((s) => s.editRecipe)
  return (
    <Section title="What the material holds">
      {LIMITS.map(({ key, name }) => (
        <LengthRow
          key={key}
          label={name}
          mm={findings.limits[key]}
          unit={unit}
          min={0}
          max={20}
          stepMm={unit === 'in' ? 0.254 : 0.1}
          onChange={(mm) =>
            editRecipe({ material: { ...material, limits: { ...findings.limits, [key]: mm } } })
          }
        />
      ))}
      {material.limits && (
        <Button
          size="sm"
          variant="outline"
          alignSelf="start"
          onClick={() => {
            endStep()
            editRecipe({ material: { name: material.name, limits: null } })
          }}
        >
          Back to those of {material.name.toLowerCase()}
        </Button>
      )}
    </Section>
  )
}
