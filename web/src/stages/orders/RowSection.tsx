import { Box, Button, Center, chakra, Flex, Input, Text, Textarea } from '@chakra-ui/react'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { answer, api } from '../../shared/api/client'
import { Row as Line, Section } from '../../shared/fields/Panel'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import type { Field, Row } from './order'
import { sizeOf, wordsOf } from './order'
import { look } from './store'
import { problemOf, useOrder, useOrderId, useRowChanges, useRows } from './useOrder'

/** One row: what it says, what is to be known of it, and what can be done. */
export function RowSection({ row }: { row: Row }) {
  const id = useOrderId()
  const navigate = useNavigate()
  const { fields, unit } = useOrder()
  const { rows } = useRows()
  const changes = useRowChanges()
  const opening = useMutation({
    mutationFn: () =>
      answer(
        api.POST('/api/orders/{order_id}/rows/{number}/open', {
          params: { path: { order_id: id, number: row.number } },
        }),
      ),
    onSuccess: ({ design }) => navigate(`/design/${design}`),
  })
  const say = (field: Field, value: string) => {
    if (value !== (row.values[field.key] ?? ''))
      changes.change(row.number, { ...row.values, [field.key]: value }, row.change)
  }
  const problem = changes.problem ?? problemOf(opening.error)
  const blocks = row.state === 'cannot-be-made'
  const next = rows.find(
    ({ number, state, looked, look_again }) =>
      number > row.number && ((state === 'gave-way' && !looked) || look_again),
  )
  return (
    <Section title={`Row ${row.number}${wordsOf(row) ? `, ${wordsOf(row)}` : ''}`}>
      {row.picture && (
        <Center bg="paper" borderRadius="md" height="190px" p="3">
          <chakra.img src={row.picture} alt="" width="full" height="full" objectFit="contain" />
        </Center>
      )}
      {row.notes.map((note) => (
        <Text key={note} fontSize="sm" color="softInk">
          {note}
        </Text>
      ))}
      {row.reasons.length > 0 &&
        (blocks ? (
          <ProblemNote what={row.reasons.join(' ')} todo="" />
        ) : (
          <Box as="ul" listStyleType="none">
            {row.reasons.map((reason) => (
              <Text as="li" key={reason} fontWeight="600" color="thin">
                {reason}
              </Text>
            ))}
          </Box>
        ))}
      {fields.map((field) => (
        <FieldOfRow
          key={`${field.key} ${row.values[field.key] ?? ''}`}
          field={field}
          value={row.values[field.key] ?? ''}
          onChange={(value) => say(field, value)}
        />
      ))}
      <Text fontSize="sm" color="softInk">
        {row.by_hand ? 'Changed by hand: it stays so when the design changes. ' : ''}
        {sizeOf(row, unit)}
      </Text>
      <Flex gap="2" wrap="wrap">
        {(row.state === 'gave-way' || row.look_again) && (!row.looked || row.look_again) && (
          <Button
            size="sm"
            bg="ink"
            color="card"
            loading={changes.busy}
            onClick={() => {
              changes.looked([row.number])
              if (next) look({ row: next.number })
            }}
          >
            {next ? 'It is good; next one' : 'It is good'}
          </Button>
        )}
        <Button size="sm" variant="outline" loading={opening.isPending} onClick={() => opening.mutate()}>
          Work on it by hand
        </Button>
        {row.by_hand && (
          <Button size="sm" variant="outline" onClick={() => changes.letGo(row.number)}>
            Let go of changes by hand
          </Button>
        )}
        <TakeOut row={row} />
      </Flex>
      {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
    </Section>
  )
}

function TakeOut({ row }: { row: Row }) {
  const changes = useRowChanges()
  return (
    <Button
      size="sm"
      variant="outline"
      onClick={() => {
        changes.remove([row.number])
        look({ row: null, removed: row.number })
      }}
    >
      Take it out
    </Button>
  )
}

interface FieldProps {
  field: Field
  value: string
  onChange: (value: string) => void
}

/** What a row says in one field; empty is as the design has it. */
function FieldOfRow({ field, value, onChange }: FieldProps) {
  const [typed, setTyped] = useState(value)
  const take = () => onChange(typed)
  const words = field.kind === 'words'
  const label = words ? `Words “${field.as_designed}”` : field.heading
  const shared = {
    'aria-label': label,
    value: typed,
    size: 'sm' as const,
    bg: 'card',
    borderColor: 'edge',
    spellCheck: false,
    onBlur: take,
  }
  if (words && value.includes('\n'))
    return <Textarea {...shared} rows={3} onChange={(e) => setTyped(e.target.value)} />
  const input = (
    <Input
      {...shared}
      placeholder={words ? '' : field.kind === 'copies' ? '1' : 'as the design'}
      onChange={(e) => setTyped(e.target.value)}
      onKeyDown={(e) => {
        if (e.key === 'Enter') take()
        if (e.key === 'Escape') setTyped(value)
      }}
    />
  )
  return words ? input : <Line label={field.heading}>{input}</Line>
}
