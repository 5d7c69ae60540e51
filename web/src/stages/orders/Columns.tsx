import { Button, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { Schemas } from '../../shared/api/client'
import { counted } from '../../shared/design/counted'
import { Choice } from '../../shared/fields/Choice'
import { useOrder } from './useOrder'

interface Props {
  list: Schemas['ListOut']
  busy: boolean
  onTake: (fields: readonly string[]) => void
  onCancel: () => void
}

/** The columns of a list, and what each says: to be put right before the list is taken. */
export function Columns({ list, busy, onTake, onCancel }: Props) {
  const { fields } = useOrder()
  const [says, setSays] = useState(list.columns.map(({ field }) => field))
  const options = [
    { value: '', label: 'not used' },
    ...fields.map(({ key, heading, kind, as_designed }) => ({
      value: key,
      label: kind === 'words' && as_designed ? `words “${as_designed}”` : heading.toLowerCase(),
    })),
  ]
  const named = says.some((field) => field.startsWith('words:'))
  const twice = says.find((field, n) => field !== '' && says.indexOf(field) !== n)
  return (
    <Flex direction="column" gap="2.5" role="group" aria-label="What the columns say">
      {list.columns.map((column, n) => {
        const name = column.heading || `Column ${n + 1}`
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: a column has no other name than its place
          <Flex key={n} direction="column" gap="1">
            <Flex justify="space-between" gap="3" align="center">
              <Text fontWeight="600" truncate>
                {name}
              </Text>
              <Flex width="150px" flexShrink="0">
                <Choice
                  label={`What ${name} says`}
                  value={says[n] ?? ''}
                  options={options}
                  onChange={(field) => setSays(says.with(n, field))}
                />
              </Flex>
            </Flex>
            <Text fontSize="sm" color="softInk" truncate>
              {column.samples.join(', ') || 'empty'}
            </Text>
          </Flex>
        )
      })}
      {!named && (
        <Text fontSize="sm" color="thin" fontWeight="600">
          Say which column holds the names.
        </Text>
      )}
      {twice && (
        <Text fontSize="sm" color="thin" fontWeight="600">
          Two columns say the same. Let one of them be not used.
        </Text>
      )}
      <Flex gap="2">
        <Button
          size="sm"
          flex="1"
          bg="ink"
          color="card"
          disabled={!named || twice !== undefined}
          loading={busy}
          onClick={() => onTake(says)}
        >
          {`Take ${counted(list.rows.length, 'row')}`}
        </Button>
        <Button size="sm" variant="outline" onClick={onCancel}>
          Not these
        </Button>
      </Flex>
    </Flex>
  )
}
