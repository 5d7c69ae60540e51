import { Box, Button, chakra, Flex, Input, Text } from '@chakra-ui/react'
import { Search, SlidersHorizontal } from 'lucide-react'
import { memo, useState } from 'react'
import { Choice } from '../../shared/fields/Choice'
import { ANY, type FaceFilter, JOINS, KINDS, LOOKS } from './faceChoice'

interface Props {
  filter: FaceFilter
  /** How many faces there are. */
  count: number
  systems: readonly string[]
  onChange: (filter: FaceFilter) => void
}

/** What kind of faces are listed, how they look, join and what they write. */
export const FaceFilters = memo(function FaceFilters(props: Props) {
  const { filter, count, onChange } = props
  const [open, setOpen] = useState(false)
  const more = filter.looks.length + (filter.joins ? 1 : 0) + (filter.system ? 1 : 0)
  return (
    <Flex direction="column" gap="2">
      <Flex gap="2" align="center">
        <Box position="relative" flex="1">
          <Input
            aria-label="Search faces"
            placeholder={`Search ${count || ''} faces`}
            value={filter.search}
            onChange={(e) => onChange({ ...filter, search: e.target.value })}
            size="sm"
            pl="8"
            bg="card"
            borderColor="edge"
            autoFocus
            spellCheck={false}
          />
          <Box position="absolute" left="2.5" top="2" color="softInk" pointerEvents="none">
            <Search size={16} />
          </Box>
        </Box>
        <Button
          size="sm"
          variant="outline"
          bg="card"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
          color={more > 0 ? 'knifeDeep' : 'ink'}
        >
          <SlidersHorizontal size={14} /> Looks{more > 0 && ` (${more})`}
        </Button>
      </Flex>
      <Flex gap="1" wrap="wrap" role="group" aria-label="Kinds of faces">
        {KINDS.map(({ value, label }) => (
          <Chip
            key={value}
            label={label}
            on={filter.kind === value}
            onPress={() => onChange({ ...filter, kind: value })}
          />
        ))}
      </Flex>
      {open && <MoreFilters {...props} />}
      {more > 0 && !open && (
        <Flex fontSize="sm" color="softInk" align="center" gap="2">
          <Text truncate>{[...filter.looks, filter.joins, filter.system].filter(Boolean).join(', ')}</Text>
          <Button
            size="xs"
            variant="outline"
            bg="card"
            onClick={() => onChange({ ...ANY, search: filter.search, kind: filter.kind })}
          >
            Any look
          </Button>
        </Flex>
      )}
    </Flex>
  )
})

function MoreFilters({ filter, systems, onChange }: Props) {
  const { looks, joins, system } = filter
  return (
    <Flex direction="column" gap="2" p="2.5" bg="paper" borderRadius="md">
      <Flex gap="1" wrap="wrap" role="group" aria-label="How faces look">
        {LOOKS.map((look) => (
          <Chip
            key={look}
            label={look}
            on={looks.includes(look)}
            onPress={() =>
              onChange({
                ...filter,
                looks: looks.includes(look) ? looks.filter((l) => l !== look) : [...looks, look],
              })
            }
          />
        ))}
      </Flex>
      <Flex gap="1" wrap="wrap" role="group" aria-label="How faces join">
        {JOINS.map((word) => (
          <Chip
            key={word}
            label={word}
            on={joins === word}
            onPress={() => onChange({ ...filter, joins: joins === word ? null : word })}
          />
        ))}
      </Flex>
      <Choice
        label="What faces write"
        value={system ?? ''}
        options={[
          { value: '', label: 'Writes anything' },
          ...systems.map((name) => ({ value: name, label: `Writes ${name}` })),
        ]}
        onChange={(name) => onChange({ ...filter, system: name === '' ? null : name })}
      />
    </Flex>
  )
}

interface ChipProps {
  label: string
  on: boolean
  onPress: () => void
}

// One style for all: there are many, and the list opens with them.
const Pill = chakra('button', {
  base: {
    height: '8',
    px: '2.5',
    borderRadius: 'full',
    borderWidth: '1px',
    borderColor: 'edge',
    bg: 'card',
    fontSize: 'xs',
    fontWeight: '600',
    cursor: 'pointer',
    _hover: { borderColor: 'ink' },
    '&[aria-pressed=true]': { bg: 'ink', borderColor: 'ink', color: 'card' },
  },
})

function Chip({ label, on, onPress }: ChipProps) {
  return (
    <Pill type="button" aria-pressed={on} onClick={onPress}>
      {label}
    </Pill>
  )
}
