import { Box, Center, chakra, Flex, Text } from '@chakra-ui/react'
import { memo } from 'react'
import type { Unit } from '../../shared/design/recipe'
import { copiesOf, type Row, told, wordsOf } from './order'
import { RowMark } from './RowMark'
import { look } from './store'

const Card = chakra('button', {
  base: {
    display: 'flex',
    flexDirection: 'column',
    width: '100%',
    height: '206px',
    textAlign: 'left',
    bg: 'card',
    borderWidth: '1px',
    borderColor: 'rule',
    borderRadius: 'lg',
    overflow: 'hidden',
    cursor: 'pointer',
    _hover: { borderColor: 'edge', boxShadow: 'md' },
    '&[aria-pressed=true]': { borderColor: 'ink', boxShadow: '0 0 0 1px {colors.ink}' },
  },
})

interface Props {
  row: Row
  unit: Unit
  chosen: boolean
}

/** A row as it will be cut, with how it stands. */
export const RowCard = memo(function RowCard({ row, unit, chosen }: Props) {
  const words = wordsOf(row) || 'no name'
  const copies = copiesOf(row)
  return (
    <Box role="listitem" minWidth="0" data-row={row.number} data-state={row.state}>
      <Card
        type="button"
        aria-label={`Row ${row.number}, ${words}`}
        aria-pressed={chosen}
        onClick={() => look({ row: chosen ? null : row.number })}
      >
        <Center flex="1" minHeight="0" width="full" bg="paper" px="4" py="3">
          {row.picture ? (
            <chakra.img
              src={row.picture}
              alt=""
              width="full"
              height="full"
              objectFit="contain"
              decoding="async"
            />
          ) : (
            <Text color="softInk" fontSize="sm">
              {row.state === '' ? 'Being worked out…' : 'Nothing to cut'}
            </Text>
          )}
        </Center>
        <Box px="3" pt="2" pb="2.5" width="full">
          <Flex align="center" gap="2">
            <Text color="softInk" fontSize="sm" fontVariantNumeric="tabular-nums" flexShrink="0">
              {row.number}
            </Text>
            <Text fontWeight="650" truncate flex="1" minWidth="0">
              {words}
            </Text>
            {copies > 1 && (
              <Text fontSize="sm" fontWeight="600">
                ×{copies}
              </Text>
            )}
            <RowMark row={row} />
          </Flex>
          <Text fontSize="sm" color="softInk" lineClamp="2" lineHeight="1.3" minHeight="2.6em">
            {row.look_again ? 'Changed since you looked at it. ' : ''}
            {row.state === '' ? '' : told(row, unit)}
          </Text>
        </Box>
      </Card>
    </Box>
  )
})
