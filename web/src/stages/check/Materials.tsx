import { Button, Flex, Input, Text } from '@chakra-ui/react'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, api, asProblem } from '../../shared/api/client'
import { chooseMaterial } from '../../shared/design/materials'
import type { Material, Unit } from '../../shared/design/recipe'
import { editRecipeOnce, useDesign } from '../../shared/design/store'
import { useMaterials } from '../../shared/design/useMaterials'
import type { Findings } from '../../shared/evaluation/store'
import { Choice } from '../../shared/fields/Choice'
import { LengthRow } from '../../shared/fields/LengthRow'
import { Row, Section } from '../../shared/fields/Panel'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { Toggle } from '../../shared/fields/Toggle'

const OWN = 'own limits'

/** What the design is cut from. */
export function MaterialField() {
  const material = useDesign((s) => s.recipe.material)
  const kept = useDesign((s) => s.recipe.materials)
  const known = useMaterials().data ?? []
  const now = known.find((m) => m.material.name === material.name)
  const own = kept.find((m) => m.name === material.name)
  const other = now !== undefined && own !== undefined && !sameMaterial(own, now.material)
  const options = [
    ...known.map((m) => ({ value: m.material.name, label: m.material.name })),
    ...(now ? [] : [{ value: material.name, label: material.name }]),
    ...(material.limits ? [{ value: OWN, label: `${material.name}, own limits` }] : []),
  ]
  const note = (own ?? now?.material)?.note
  return (
    <>
      <Row label="Material">
        <Choice
          label="Material"
          value={material.limits ? OWN : material.name}
          options={options}
          onChange={(name) => name !== OWN && chooseMaterial(name, known)}
        />
      </Row>
      {note && (
        <Text fontSize="sm" color="softInk">
          {note}
        </Text>
      )}
      {other && !material.limits && (
        <Flex direction="column" gap="1.5" bg="thinTint" borderRadius="sm" px="2.5" py="2" fontSize="sm">
          <Text>{`The shop has ${material.name} otherwise by now. This design keeps it as it was.`}</Text>
          <Button
            size="xs"
            variant="outline"
            bg="card"
            alignSelf="start"
            onClick={() => chooseMaterial(material.name, known)}
          >
            Take it as the shop has it
          </Button>
        </Flex>
      )}
    </>
  )
}

const sameMaterial = (one: Material, other: Material) =>
  one.note === other.note &&
  one.mirrored === other.mirrored &&
  one.joint_mm === other.joint_mm &&
  LIMITS.every(({ key }) => one.limits[key] === other.limits[key])

const LIMITS = [
  { key: 'neck_mm', name: 'Narrowest neck' },
  { key: 'stroke_mm', name: 'Narrowest stroke' },
  { key: 'hole_mm', name: 'Smallest hole' },
  { key: 'piece_mm', name: 'Smallest piece' },
  { key: 'gap_mm', name: 'Narrowest gap' },
] as const

/** What the material holds, to be set otherwise, and kept as a material of the shop. */
export function LimitFields({ findings, unit }: { findings: Findings; unit: Unit }) {
  const material = useDesign((s) => s.recipe.material)
  const editRecipe = useDesign((s) => s.editRecipe)
  // What the maker has set is there at once; the rest is as the findings were judged.
  const limits = material.limits ?? findings.limits
  return (
    <Section title="What the material holds">
      {LIMITS.map(({ key, name }) => (
        <LengthRow
          key={key}
          label={name}
          mm={limits[key]}
          unit={unit}
          min={0}
          max={20}
          stepMm={unit === 'in' ? 0.254 : 0.1}
          onChange={(mm) => editRecipe({ material: { ...material, limits: { ...limits, [key]: mm } } })}
        />
      ))}
      {material.limits && (
        <Button
          size="sm"
          variant="outline"
          alignSelf="start"
          onClick={() => {
            editRecipeOnce({ material: { name: material.name, limits: null } })
          }}
        >
          Back to those of {material.name.toLowerCase()}
        </Button>
      )}
      <ShopMaterial key={material.name} limits={limits} />
    </Section>
  )
}

/** The material as the shop keeps it: by a name of its own, with a note. */
function ShopMaterial({ limits }: { limits: Findings['limits'] }) {
  const queries = useQueryClient()
  const chosen = useDesign((s) => s.recipe.material)
  const known = useMaterials().data ?? []
  const now = known.find((m) => m.material.name === chosen.name)
  const [name, setName] = useState('')
  const [note, setNote] = useState<string | null>(null)
  const [mirrored, setMirrored] = useState<boolean | null>(null)
  const settled = (data: typeof known) => queries.setQueryData(['materials'], data)
  const keep = useMutation({
    mutationFn: (material: Material) => answer(api.PUT('/api/materials', { body: { material } })),
    onSuccess: (data, material) => {
      settled(data)
      chooseMaterial(material.name, data)
      setName('')
    },
  })
  const forget = useMutation({
    mutationFn: (gone: string) => answer(api.DELETE('/api/materials', { params: { query: { name: gone } } })),
    onSuccess: settled,
  })
  const problem = keep.error ?? forget.error
  const told = problem ? asProblem(problem) : null
  const wanted = name.trim() || chosen.name
  const next: Material = {
    name: wanted,
    joint_mm: now?.material.joint_mm ?? 1.2,
    limits,
    mirrored: mirrored ?? now?.material.mirrored ?? false,
    note: (note ?? now?.material.note ?? '').trim(),
  }
  const changes = now === undefined || wanted !== chosen.name || !sameMaterial(next, now.material)
  return (
    <>
      <Text fontWeight="600">In the shop</Text>
      <Input
        aria-label="Name of the material in the shop"
        size="sm"
        bg="card"
        borderColor="edge"
        placeholder={chosen.name}
        maxLength={60}
        value={name}
        onChange={(e) => setName(e.target.value)}
      />
      <Input
        aria-label="A note on the material"
        size="sm"
        bg="card"
        borderColor="edge"
        placeholder="A note: where from, which blade…"
        maxLength={240}
        value={note ?? now?.material.note ?? ''}
        onChange={(e) => setNote(e.target.value)}
      />
      <Toggle checked={next.mirrored} onChange={setMirrored}>
        Cut from its back, mirrored
      </Toggle>
      <Flex gap="2" wrap="wrap">
        <Button
          size="sm"
          variant="outline"
          aria-disabled={!changes}
          loading={keep.isPending}
          title={changes ? undefined : 'The shop has it so already'}
          onClick={() => changes && keep.mutate(next)}
        >
          {wanted === chosen.name ? `Keep ${wanted.toLowerCase()} so` : `Keep as ${wanted}`}
        </Button>
        {now && !now.is_default && (
          <Button size="sm" variant="outline" onClick={() => forget.mutate(now.material.name)}>
            {now.own ? `Take ${now.material.name} out` : 'As Fulgen knows it'}
          </Button>
        )}
      </Flex>
      {told && <ProblemNote what={told.message} todo={told.todo} />}
    </>
  )
}
