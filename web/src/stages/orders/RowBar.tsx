import { Box, Button, Flex, Input, Text } from '@chakra-ui/react'
import { Search } from 'lucide-react'
import { Choice } from '../../shared/fields/Choice'
import { Segments } from '../../shared/fields/Segments'
import { SHOWN, type Shown, SORTED } from './order'
import { look, useOrderView } from './store'
import { useRowChanges, useRows } from './useOrder'

/** Which rows are shown, and in which order. */
export function RowBar() {
  const { counts } = useRows()
  const { shown, sorted, typed, removed } = useOrderView()
  const many: Record<Shown, number> = {
    all: counts.rows,
    'gave-way': counts.gave_way,
    'cannot-be-made': counts.cannot_be_made + counts.empty,
    'look-again': counts.look_again,
  }
  const options = SHOWN.filter(({ value }) => value === 'all' || value === shown || many[value] > 0).map(
    ({ value, label }) => ({ value, label: `${label} ${many[value]}` }),
  )
  const { putBack } = useRowChanges()
  if (counts.rows === 0 && removed === null) return null
  return (
    <Flex px="5" pt="4" pb="1" gap="3" align="center" wrap="wrap">
      <Segments<Shown>
        label="Which rows"
        value={shown}
        options={options}
        onChange={(shown) => look({ shown })}
      />
      <Box position="relative" width="200px">
        <Input
          aria-label="Search the names"
          placeholder="Name or number"
          size="sm"
          value={typed}
          onChange={(e) => look({ typed: e.target.value })}
          pl="8"
          bg="card"
          borderColor="edge"
          spellCheck={false}
        />
        <Box position="absolute" left="2.5" top="2" color="softInk" pointerEvents="none">
          <Search size={16} />
        </Box>
      </Box>
      <Box width="150px">
        <Choice
          label="Order of the rows"
          value={sorted}
          options={SORTED}
          onChange={(sorted) => look({ sorted })}
        />
      </Box>
      {removed !== null && (
        <Flex role="status" align="center" gap="2">
          <Text>Row {removed} is out.</Text>
          <Button
            size="sm"
            variant="outline"
            onClick={() => {
              putBack([removed])
              look({ removed: null, row: removed })
            }}
          >
            Put it back
          </Button>
        </Flex>
      )}
    </Flex>
  )
}
