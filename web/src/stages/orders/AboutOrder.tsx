import { Input } from '@chakra-ui/react'
import { Choice } from '../../shared/fields/Choice'
import { Row, Section } from '../../shared/fields/Panel'
import type { Order } from './order'
import { useOrder, useSaveOrder } from './useOrder'

const STAGES: { value: Order['stage']; label: string }[] = [
  { value: 'draft', label: 'draft' },
  { value: 'proof', label: 'proof is out' },
  { value: 'approved', label: 'approved' },
  { value: 'cutting', label: 'on the cutter' },
  { value: 'done', label: 'done' },
]

/** For whom the order is, until when, and how far it is. */
export function AboutOrder() {
  const { customer, due, stage } = useOrder()
  const { save } = useSaveOrder()
  return (
    <Section title="This order">
      <Row label="Customer">
        <Input
          key={customer}
          aria-label="Customer"
          size="sm"
          bg="card"
          borderColor="edge"
          maxLength={120}
          defaultValue={customer}
          onBlur={(e) => e.target.value !== customer && save({ customer: e.target.value })}
        />
      </Row>
      <Row label="Wanted by">
        <Input
          key={due}
          aria-label="Wanted by"
          type="date"
          size="sm"
          bg="card"
          borderColor="edge"
          defaultValue={due ?? ''}
          onBlur={(e) => (e.target.value || null) !== due && save({ due: e.target.value || null })}
        />
      </Row>
      <Row label="How far it is">
        <Choice
          label="How far it is"
          value={stage}
          options={STAGES}
          onChange={(next) => save({ stage: next })}
        />
      </Row>
    </Section>
  )
}
