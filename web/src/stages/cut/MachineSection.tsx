import { Button, Flex, Input, Text } from '@chakra-ui/react'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, api, asProblem } from '../../shared/api/client'
import { isLastOne, KEEPING } from '../../shared/api/keeping'
import { useFileKinds } from '../../shared/api/useFileKinds'
import { useMachines } from '../../shared/api/useMachines'
import type { Machine } from '../../shared/design/cutPlan'
import { useDesign } from '../../shared/design/store'
import { useUnit } from '../../shared/evaluation/store'
import { Choice } from '../../shared/fields/Choice'
import { CountField } from '../../shared/fields/CountField'
import { Expander } from '../../shared/fields/Expander'
import { LengthRow } from '../../shared/fields/LengthRow'
import { Row } from '../../shared/fields/Panel'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { Segments } from '../../shared/fields/Segments'
import { TypedField, within } from '../../shared/fields/TypedField'
import { type Reached, ReachedFields } from './ReachedFields'
import { ToolSettings } from './ToolSettings'
import { editPlan } from './useSheets'

const KINDS = [
  { value: 'knife', label: 'Knife' },
  { value: 'laser', label: 'Laser' },
  { value: 'saw', label: 'Saw' },
  { value: 'pen', label: 'Pen' },
] as const

const LINES_IN_FILES = { key: 'hairline_mm', label: 'Lines in files, 0: areas †', min: 0 } as const
const APART = { key: 'engrave_mm', label: 'Lines that fill, apart †', min: 0.05 } as const

/** What is to be known of a machine of each kind. */
const LENGTHS = {
  knife: [
    { key: 'offset_mm', label: 'Blade offset †', min: 0 },
    { key: 'overcut_mm', label: 'Overcut †', min: 0 },
  ],
  laser: [{ key: 'kerf_mm', label: 'Kerf †', min: 0 }, LINES_IN_FILES, APART],
  saw: [{ key: 'kerf_mm', label: 'Blade width †', min: 0 }, LINES_IN_FILES],
  pen: [LINES_IN_FILES, APART],
} as const

type MachineRow = NonNullable<ReturnType<typeof useMachines>>[number]

/** The machine of that name; the first one, where it is not known here. */
export const machineOf = (
  machines: readonly MachineRow[] | undefined,
  name: string,
): MachineRow | undefined => machines?.find(({ machine }) => machine.name === name) ?? machines?.[0]

function useKeeping() {
  const queries = useQueryClient()
  const settled = () => {
    if (!isLastOne(queries)) return
    void queries.invalidateQueries({ queryKey: ['machines'] })
    void queries.invalidateQueries({ queryKey: ['sheets'] })
  }
  const keep = useMutation({
    mutationKey: KEEPING,
    scope: { id: 'machines' },
    mutationFn: (body: { machine: Machine; reached?: Reached }) => answer(api.PUT('/api/machines', { body })),
    // The next change is of the profile as this one leaves it.
    onMutate: ({ machine }) =>
      queries.setQueryData(['machines'], (rows: MachineRow[] | undefined) =>
        rows?.map((row) => (row.machine.name === machine.name ? { ...row, machine } : row)),
      ),
    onSettled: settled,
  })
  const forget = useMutation({
    mutationFn: (name: string) => answer(api.DELETE('/api/machines', { params: { query: { name } } })),
    onSettled: settled,
  })
  return { keep, forget }
}

/** The machine that the design is cut by, and its profile. */
export function MachineSection() {
  const name = useDesign((s) => s.recipe.cut.machine)
  const machines = useMachines() ?? []
  const row = machineOf(machines, name)
  const { keep, forget } = useKeeping()
  const error = keep.error ?? forget.error
  const problem = error ? asProblem(error) : null
  if (!row) return null
  return (
    <>
      <Choice
        label="Machine"
        value={row.machine.name}
        options={machines.map(({ machine }) => ({ value: machine.name, label: machine.name }))}
        onChange={(machine) => editPlan({ machine })}
      />
      <Expander label="Its profile" open={false}>
        <Profile
          key={row.machine.name}
          machine={row.machine}
          onKeep={(machine) => keep.mutate({ machine })}
        />
        {row.machine.offset_mm > 0 && (
          <Text fontSize="sm" color="softInk">
            A short cut in a corner of the sheet turns the blade the right way first.
          </Text>
        )}
        <Text fontSize="sm" color="softInk">
          † Values are common practice, to begin with: cut a test and set your own.
        </Text>
        {!row.is_default && (
          <Button
            size="sm"
            variant="outline"
            alignSelf="start"
            onClick={() => {
              forget.mutate(row.machine.name)
              if (row.own) editPlan({ machine: 'Drag knife' })
            }}
          >
            {row.own ? 'Take this machine out' : 'Back to the usual values'}
          </Button>
        )}
        <NewMachine
          like={row.machine}
          taken={machines.map((m) => m.machine.name)}
          onKeep={(machine) => keep.mutate({ machine })}
        />
      </Expander>
      <Expander label="Force and speed" open={false}>
        <ToolSettings machine={row.machine} does={row.does} onKeep={(machine) => keep.mutate({ machine })} />
      </Expander>
      {row.machine.formats.includes('hpgl') && (
        <Expander label="How it is reached" open={false}>
          <ReachedFields
            key={row.machine.name}
            reached={row.reached}
            onKeep={(reached) => keep.mutate({ machine: row.machine, reached })}
          />
        </Expander>
      )}
      {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
    </>
  )
}

function Profile({ machine, onKeep }: { machine: Machine; onKeep: (machine: Machine) => void }) {
  const unit = useUnit()
  const kinds = useFileKinds().written
  const fine = unit === 'in' ? 0.0254 : 0.05
  const change = (changes: Partial<Machine>) => onKeep({ ...machine, ...changes })
  const lengths = LENGTHS[machine.kind]
  const area = [
    { key: 'width_mm', label: 'Cuts so wide †' },
    { key: 'length_mm', label: 'Cuts so long †' },
  ] as const
  return (
    <Flex direction="column" gap="2.5">
      <Segments
        label="Kind of machine"
        value={machine.kind}
        options={KINDS}
        onChange={(kind) =>
          change({
            kind,
            ...(kind === 'knife'
              ? { kerf_mm: 0, offset_mm: 0.25 }
              : { offset_mm: 0, overcut_mm: 0, kerf_mm: kind === 'pen' ? 0 : 0.15 }),
          })
        }
        fill
      />
      {lengths.map(({ key, label, min }) => (
        <LengthRow
          key={key}
          label={label}
          mm={machine[key] ?? 0}
          unit={unit}
          min={min}
          max={5}
          stepMm={fine}
          onChange={(mm) => change({ [key]: mm })}
        />
      ))}
      <Row label="Passes †">
        <CountField
          label="Passes"
          value={machine.passes}
          min={1}
          max={10}
          onChange={(passes) => change({ passes })}
        />
      </Row>
      {area.map(({ key, label }) => (
        <LengthRow
          key={key}
          label={label}
          mm={machine[key]}
          unit={unit}
          min={10}
          max={20_000}
          stepMm={10}
          onChange={(mm) => change({ [key]: mm })}
        />
      ))}
      <Row label="Speed †">
        <TypedField
          label="Speed"
          value={machine.speed_mm_s}
          show={(value) => `${value} mm/s`}
          read={(text) => {
            const value = Number.parseFloat(text)
            return value >= 1 && value <= 2000 ? { value } : { wrong: 'It can be 1 to 2000 mm/s.' }
          }}
          step={(value, steps) => within(value + steps * 5, 1, 2000)}
          onChange={(speed_mm_s) => change({ speed_mm_s })}
        />
      </Row>
      <Text>Files it reads</Text>
      <Flex gap="1.5" wrap="wrap" role="group" aria-label="Files it reads">
        {kinds.map(({ key: value, name: label }) => {
          const reads = machine.formats.includes(value)
          return (
            <Button
              key={value}
              size="xs"
              variant={reads ? 'solid' : 'outline'}
              {...(reads ? { bg: 'ink', color: 'card' } : {})}
              aria-pressed={reads}
              onClick={() =>
                change({
                  formats: reads ? machine.formats.filter((f) => f !== value) : [...machine.formats, value],
                })
              }
            >
              {label}
            </Button>
          )
        })}
      </Flex>
    </Flex>
  )
}

/** Another machine, begun as a copy of this one. */
function NewMachine({
  like,
  taken,
  onKeep,
}: {
  like: Machine
  taken: readonly string[]
  onKeep: (machine: Machine) => void
}) {
  const [name, setName] = useState('')
  const wanted = name.trim()
  const usable = wanted !== '' && !taken.includes(wanted)
  return (
    <Flex gap="2">
      <Input
        aria-label="Name of another machine"
        size="sm"
        bg="card"
        borderColor="edge"
        placeholder="Another machine"
        maxLength={60}
        value={name}
        onChange={(e) => setName(e.target.value)}
      />
      <Button
        size="sm"
        variant="outline"
        aria-disabled={!usable}
        title={usable ? `Begins as a copy of ${like.name}` : 'Type a name that no machine has yet'}
        onClick={() => {
          if (!usable) return
          onKeep({ ...like, name: wanted })
          editPlan({ machine: wanted })
          setName('')
        }}
      >
        Add
      </Button>
    </Flex>
  )
}
