import { Flex, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { X } from 'lucide-react'
import { answer, api } from '../../shared/api/client'
import { limitsOf, mostOf } from '../../shared/api/model'
import type { CutPlan } from '../../shared/design/cutPlan'
import { useDesign } from '../../shared/design/store'
import { Choice } from '../../shared/fields/Choice'
import { CountField } from '../../shared/fields/CountField'
import { Expander } from '../../shared/fields/Expander'
import { IconTool } from '../../shared/fields/IconTool'
import { editPlan } from './useSheets'

const MOST_COPIES = limitsOf('ExtraDesign', 'copies').max
const MOST_EXTRA_DESIGNS = mostOf('CutPlan', 'extra_designs')

type ExtraDesign = CutPlan['extra_designs'][number]

/** Other designs of the shelf that are cut from the same sheets. */
export function Others() {
  const id = useDesign((s) => s.id)
  const also = useDesign((s) => s.recipe.cut.extra_designs)
  const shelf = useQuery({
    queryKey: ['shelf-names'],
    queryFn: () => answer(api.GET('/api/designs')),
    staleTime: 30_000,
  }).data
  const names = new Map(shelf?.map((card) => [card.id, card.name]) ?? [])
  const free = shelf?.filter((card) => card.id !== id && !also.some((row) => row.design === card.id)) ?? []
  const change = (design: string, copies: number) =>
    editPlan({
      extra_designs: also.map((row) => (row.design === design ? { design, copies } : row)),
      laid: [],
    })
  return (
    <Expander label="Other designs on these sheets" open={also.length > 0}>
      {also.map((row) => (
        <Row
          key={row.design}
          row={row}
          name={names.get(row.design) ?? 'Not on the shelf'}
          onChange={(copies) => change(row.design, copies)}
          onLeaveOut={() => editPlan({ extra_designs: also.filter((other) => other !== row), laid: [] })}
        />
      ))}
      {also.length < MOST_EXTRA_DESIGNS ? (
        <Choice
          label="Another design on these sheets"
          value=""
          options={[
            { value: '', label: 'Add a design from the shelf…' },
            ...free.map((card) => ({ value: card.id, label: card.name })),
          ]}
          onChange={(design) =>
            design && editPlan({ extra_designs: [...also, { design, copies: 1 }], laid: [] })
          }
        />
      ) : (
        <Text fontSize="sm" color="softInk">
          Sheets take up to {MOST_EXTRA_DESIGNS} other designs.
        </Text>
      )}
    </Expander>
  )
}

interface RowProps {
  row: ExtraDesign
  name: string
  onChange: (copies: number) => void
  onLeaveOut: () => void
}

function Row({ row, name, onChange, onLeaveOut }: RowProps) {
  return (
    <Flex align="start" gap="2" data-also={row.design}>
      <Text flex="1" pt="2" truncate>
        {name}
      </Text>
      <Flex width="64px" direction="column" flexShrink="0">
        <CountField
          label={`Copies of ${name}`}
          value={row.copies}
          min={1}
          max={MOST_COPIES}
          onChange={onChange}
        />
      </Flex>
      <IconTool name={`Take ${name} off these sheets`} size="sm" variant="ghost" onClick={onLeaveOut}>
        <X size={15} />
      </IconTool>
    </Flex>
  )
}
