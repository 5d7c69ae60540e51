import { Button, Flex, Input, Text } from '@chakra-ui/react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { X } from 'lucide-react'
import { useState } from 'react'
import { answer, api, asProblem, type Schemas } from '../../shared/api/client'
import { isLastOne, KEEPING } from '../../shared/api/keeping'
import { parseDegrees, showDegrees } from '../../shared/design/cutPlan'
import { useUnit } from '../../shared/evaluation/store'
import { Choice } from '../../shared/fields/Choice'
import { CountField } from '../../shared/fields/CountField'
import { IconTool } from '../../shared/fields/IconTool'
import { Row } from '../../shared/fields/Panel'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { TypedField, within } from '../../shared/fields/TypedField'

type Press = Schemas['PressOut']

const PEELS = [
  { value: '', label: 'not said' },
  { value: 'hot', label: 'hot' },
  { value: 'warm', label: 'warm' },
  { value: 'cold', label: 'cold' },
] as const

/** What the shop knows of pressing a material. */
export function usePress(material: string) {
  return useQuery({
    queryKey: ['press', material],
    queryFn: () => answer(api.GET('/api/press', { params: { query: { material } } })),
  }).data
}

function useKeeping(material: string) {
  const queries = useQueryClient()
  const onSuccess = (press: Press) => {
    if (isLastOne(queries)) queries.setQueryData(['press', material], press)
    void queries.invalidateQueries({ queryKey: ['sheets'] })
  }
  const keep = useMutation({
    mutationKey: KEEPING,
    scope: { id: 'press' },
    mutationFn: ({ tests: _, ...note }: Press) => answer(api.PUT('/api/press', { body: note })),
    // The next change is of the note as this one leaves it.
    onMutate: (press) => queries.setQueryData(['press', material], press),
    onSuccess,
    onError: () => queries.invalidateQueries({ queryKey: ['press', material] }),
  })
  const test = useMutation({
    mutationFn: (body: Schemas['TestIn']) => answer(api.POST('/api/press/tests', { body })),
    onSuccess,
  })
  const forget = useMutation({
    mutationFn: (test_id: number) =>
      answer(
        api.DELETE('/api/press/tests/{test_id}', { params: { path: { test_id }, query: { material } } }),
      ),
    onSuccess,
  })
  return { keep, test, forget }
}

/** How a material is pressed, and what was learnt of it. */
export function PressNotes({ material }: { material: string }) {
  const press = usePress(material)
  const unit = useUnit()
  const { keep, test, forget } = useKeeping(material)
  const error = keep.error ?? test.error ?? forget.error
  const problem = error ? asProblem(error) : null
  if (!press) return null
  const change = (changes: Partial<Press>) => keep.mutate({ ...press, ...changes })
  return (
    <Flex direction="column" gap="2.5">
      <Row label="Heat">
        <TypedField
          label={`Heat for ${material}`}
          value={press.degrees}
          show={(value) => (value === null ? '' : showDegrees(value, unit))}
          read={(text) => {
            if (text.trim() === '') return { value: null }
            const value = parseDegrees(text.replace(/\(.*\)/, ''), unit)
            return value !== null && value >= 20 && value <= 300
              ? { value }
              : { wrong: 'Type a heat such as 150 °C or 300 °F: 20 to 300 °C.' }
          }}
          step={(value, steps) => within((value ?? 140) + steps * 5, 20, 300)}
          onChange={(degrees) => change({ degrees })}
        />
      </Row>
      <Row label="Time">
        <TypedField
          label={`Time for ${material}`}
          value={press.seconds}
          show={(value) => (value === null ? '' : `${value} s`)}
          read={(text) => {
            if (text.trim() === '') return { value: null }
            const value = Number.parseFloat(text)
            return value >= 1 && value <= 600 ? { value } : { wrong: 'It can be 1 to 600 s.' }
          }}
          step={(value, steps) => within((value ?? 10) + steps, 1, 600)}
          onChange={(seconds) => change({ seconds })}
        />
      </Row>
      <Row label="How often">
        <CountField
          label={`How often ${material} is pressed`}
          value={press.passes}
          min={1}
          max={9}
          onChange={(passes) => change({ passes })}
        />
      </Row>
      <Row label="Peel">
        <Choice
          label={`How ${material} is peeled`}
          value={press.peel}
          options={PEELS}
          onChange={(peel) => change({ peel })}
        />
      </Row>
      {(
        [
          { key: 'side', label: 'Side', holder: 'which side lies up' },
          { key: 'cover', label: 'Cover', holder: 'what covers it' },
        ] as const
      ).map(({ key, label, holder }) => (
        <Row key={key} label={label}>
          <Input
            aria-label={`${label} of ${material}`}
            size="sm"
            bg="card"
            borderColor="edge"
            maxLength={120}
            placeholder={holder}
            key={press[key]}
            defaultValue={press[key]}
            onBlur={(e) => e.target.value !== press[key] && change({ [key]: e.target.value })}
          />
        </Row>
      ))}
      {press.tests.map((row) => (
        <Flex key={row.id} gap="2" align="start" data-test={row.good ? 'good' : 'bad'}>
          <Text fontSize="sm" flex="1" color={row.good ? 'hold' : 'thin'}>
            {showDay(row.on)}: {row.words}
          </Text>
          <IconTool
            name="Take this note out"
            size="2xs"
            variant="ghost"
            onClick={() => forget.mutate(row.id)}
          >
            <X size={14} />
          </IconTool>
        </Flex>
      ))}
      <NewTest onKeep={(words, good) => test.mutate({ material, on: today(), words, good })} />
      {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
    </Flex>
  )
}

/** A try to write down: one that failed warns the next time. */
function NewTest({ onKeep }: { onKeep: (words: string, good: boolean) => void }) {
  const [words, setWords] = useState('')
  const keep = (good: boolean) => {
    if (words.trim() === '') return
    onKeep(words.trim(), good)
    setWords('')
  }
  const why = words.trim() === '' ? 'Type what you saw first' : undefined
  return (
    <Flex direction="column" gap="1.5">
      <Input
        aria-label="What you saw in a test"
        size="sm"
        bg="card"
        borderColor="edge"
        maxLength={240}
        placeholder="A test: what you saw"
        value={words}
        onChange={(e) => setWords(e.target.value)}
      />
      <Flex gap="2">
        <Button size="xs" variant="outline" aria-disabled={!!why} title={why} onClick={() => keep(true)}>
          It went well
        </Button>
        <Button size="xs" variant="outline" aria-disabled={!!why} title={why} onClick={() => keep(false)}>
          Warn me next time
        </Button>
      </Flex>
    </Flex>
  )
}

const today = () => new Date().toLocaleDateString('sv')

export const showDay = (day: string) =>
  new Date(`${day}T12:00:00`).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' })
