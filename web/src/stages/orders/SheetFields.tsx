import { Text } from '@chakra-ui/react'
import { defaultsOf } from '../../shared/api/model'
import { useMachines } from '../../shared/api/useMachines'
import { Choice } from '../../shared/fields/Choice'
import { LengthRow } from '../../shared/fields/LengthRow'
import { Row, Section } from '../../shared/fields/Panel'
import { Segments } from '../../shared/fields/Segments'
import { Toggle } from '../../shared/fields/Toggle'
import type { OrderPlan, Sheets } from './order'
import { useOrder, usePlan } from './useOrder'

type SheetPlan = NonNullable<OrderPlan['sheet']>

const STOCK = [
  { value: 'sheet', label: 'Sheets' },
  { value: 'roll', label: 'A roll' },
] as const

const ARRANGED = [
  { value: 'rows', label: 'In rows' },
  { value: 'closely', label: 'Closely' },
] as const

const TURNS = [
  { value: 'none', label: 'not at all' },
  { value: 'half', label: 'by half: keeps the grain' },
  { value: 'quarter', label: 'by quarters' },
  { value: 'any', label: 'freely' },
] as const

const NUMBERS = [
  { value: 'none', label: 'none' },
  { value: 'draw', label: 'drawn by pen' },
  { value: 'score', label: 'lightly cut' },
] as const

/** What the rows are cut from, how they lie there, and what is put beside them. */
export function SheetFields({ sheets }: { sheets: Sheets | undefined }) {
  const { unit } = useOrder()
  const { plan, change, changeBy } = usePlan()
  const machines = useMachines() ?? []
  const first = sheets?.sheets[0]
  const sheet: SheetPlan = plan.sheet ?? {
    ...defaultsOf('OrderSheet'),
    ...(first
      ? { width_mm: first.width_mm, height_mm: first.height_mm, margin_mm: first.margin_mm, roll: first.roll }
      : {}),
  }
  const other = (more: Partial<SheetPlan>) =>
    changeBy((now) => ({ sheet: { ...(now.sheet ?? sheet), ...more } }))
  const sides = [
    { key: 'width_mm', label: 'Width' },
    { key: 'height_mm', label: sheet.roll ? 'Longest' : 'Height' },
    { key: 'margin_mm', label: 'Margin' },
  ] as const
  return (
    <Section title="Sheets">
      <Segments
        label="Sheets or a roll"
        value={sheet.roll ? 'roll' : 'sheet'}
        options={STOCK}
        fill
        onChange={(value) =>
          other({
            roll: value === 'roll',
            ...(value === 'roll' ? { height_mm: 10_000 } : { height_mm: 300 }),
          })
        }
      />
      {sides.map(({ key, label }) => (
        <LengthRow
          key={key}
          label={label}
          mm={sheet[key]}
          unit={unit}
          min={0}
          max={key === 'margin_mm' ? 1000 : 20_000}
          stepMm={unit === 'in' ? 6.35 : 5}
          onChange={(mm) => other({ [key]: mm })}
        />
      ))}
      <LengthRow
        label="Between them"
        mm={plan.spacing_mm ?? 3}
        unit={unit}
        min={0}
        max={1000}
        stepMm={1}
        onChange={(mm) => change({ spacing_mm: mm })}
      />
      <Segments
        label="How they lie"
        value={plan.arrangement}
        options={ARRANGED}
        fill
        onChange={(arrangement) => change({ arrangement })}
      />
      {plan.arrangement === 'closely' && (
        <Row label="Turned">
          <Choice label="Turned" value={plan.turns} options={TURNS} onChange={(turns) => change({ turns })} />
        </Row>
      )}
      <Row label="Numbers beside">
        <Choice
          label="Numbers beside"
          value={plan.numbers}
          options={NUMBERS}
          onChange={(numbers) => change({ numbers })}
        />
      </Row>
      <Row label="Machine">
        <Choice
          label="Machine"
          value={plan.machine || (sheets?.machine ?? '')}
          options={machines.map(({ machine: { name } }) => ({ value: name, label: name }))}
          onChange={(machine) => change({ machine })}
        />
      </Row>
      <Toggle checked={plan.hold_back} onChange={(hold_back) => change({ hold_back })}>
        Hold a sheet back until it is full
      </Toggle>
      {sheets !== undefined && sheets.left_out > 0 && (
        <Text fontSize="sm" color="thin" fontWeight="600">
          {`${sheets.left_out === 1 ? 'One row' : `${sheets.left_out} rows`} cannot be made and ${sheets.left_out === 1 ? 'is' : 'are'} left out.`}
        </Text>
      )}
    </Section>
  )
}
