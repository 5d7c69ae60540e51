import { Box, Center, chakra, Flex, Input, Text } from '@chakra-ui/react'
import { Copy, ListOrdered, Pencil, Tag, Trash2 } from 'lucide-react'
import { type ComponentProps, useState } from 'react'
import { Link } from 'react-router'
import type { Schemas } from '../../shared/api/client'
import { counted } from '../../shared/design/counted'
import type { Unit } from '../../shared/design/recipe'
import { showNumber } from '../../shared/design/units'
import { IconTool } from '../../shared/fields/IconTool'
import { CardBox } from './CardBox'

interface Props {
  card: Schemas['Card']
  onCopy: () => void
  onOrder: () => void
  onDelete: () => void
  onRename: (name: string) => void
  onTag: (tags: string[]) => void
}

const CardLink = chakra(Link)

/** A design on the shelf: what it looks like, its size and pieces. */
export function DesignCard({ card, onCopy, onOrder, onDelete, onRename, onTag }: Props) {
  const [typing, setTyping] = useState<'name' | 'tags' | null>(null)
  function rename(name: string) {
    setTyping(null)
    if (name.trim() && name !== card.name) onRename(name)
  }
  function tag(text: string) {
    setTyping(null)
    if (text !== card.tags.join(', ')) onTag(text.split(','))
  }
  return (
    <CardBox name={card.name}>
      <CardLink to={`/design/${card.id}`} aria-label={`Open ${card.name}`} display="block">
        <Center height="176px" bg="paper" px="8" py="7">
          <Thumbnail card={card} />
        </Center>
      </CardLink>
      <Box pl="4" pr="2" pt="2.5" pb="2.5">
        {typing === 'name' && (
          <OneLine label="New name" value={card.name} onDone={rename} onCancel={() => setTyping(null)} />
        )}
        {typing === 'tags' && (
          <OneLine
            label="Tags, with commas between them"
            value={card.tags.join(', ')}
            onDone={tag}
            onCancel={() => setTyping(null)}
          />
        )}
        {typing === null && (
          <Flex height="8" gap="3" pr="2" align="baseline">
            <CardLink
              to={`/design/${card.id}`}
              tabIndex={-1}
              display="block"
              flex="1"
              minWidth="0"
              fontWeight="650"
              fontSize="lg"
              truncate
            >
              {card.name}
            </CardLink>
            {card.tags.length > 0 && (
              <Text color="softInk" fontSize="sm" truncate maxWidth="50%" title={card.tags.join(', ')}>
                {card.tags.join(', ')}
              </Text>
            )}
          </Flex>
        )}
        <Flex align="center" justify="space-between" gap="2">
          <Text color="softInk" truncate fontSize="sm" fontVariantNumeric="tabular-nums">
            {figures(card)}
          </Text>
          <Flex color="softInk" flexShrink="0">
            <Tool name={`Rename ${card.name}`} onClick={() => setTyping('name')}>
              <Pencil size={15} />
            </Tool>
            <Tool name={`Tag ${card.name}`} onClick={() => setTyping('tags')}>
              <Tag size={15} />
            </Tool>
            <Tool name={`Make an order of ${card.name}`} onClick={onOrder}>
              <ListOrdered size={15} />
            </Tool>
            <Tool name={`Copy ${card.name}`} onClick={onCopy}>
              <Copy size={15} />
            </Tool>
            <Tool name={`Delete ${card.name}`} onClick={onDelete}>
              <Trash2 size={15} />
            </Tool>
          </Flex>
        </Flex>
      </Box>
    </CardBox>
  )
}

interface OneLineProps {
  label: string
  value: string
  onDone: (text: string) => void
  onCancel: () => void
}

/** A line to type in place of what a card shows. */
function OneLine({ label, value, onDone, onCancel }: OneLineProps) {
  return (
    <Input
      aria-label={label}
      placeholder={label}
      size="sm"
      autoFocus
      defaultValue={value}
      maxLength={400}
      onFocus={(e) => e.target.select()}
      onBlur={(e) => onDone(e.target.value)}
      onKeyDown={(e) => {
        if (e.key === 'Enter') onDone(e.currentTarget.value)
        if (e.key === 'Escape') onCancel()
      }}
    />
  )
}

function figures({ width_mm, height_mm, pieces, unit, why_not, drawn }: Schemas['Card']): string {
  if (width_mm == null || height_mm == null)
    return why_not || (drawn ? 'Nothing to cut yet.' : 'Being drawn…')
  const maker = unit as Unit
  const size = `${showNumber(width_mm, maker)} × ${showNumber(height_mm, maker)} ${unit}`
  if (!pieces) return `${size}, nothing to cut`
  return `${size}, ${counted(pieces, 'piece')}`
}

function Thumbnail({ card }: { card: Schemas['Card'] }) {
  if (!card.thumbnail) return <Text color="softInk">{card.drawn ? 'Nothing to cut yet' : ''}</Text>
  const { width, height, films } = card.thumbnail
  return (
    // Lines along its edge are seen with all of their width.
    <svg width="100%" height="100%" viewBox={`0 0 ${width} ${height}`} overflow="visible" aria-hidden="true">
      {films.map(({ colour, d, line }) => (
        <path
          key={`${colour} ${d.slice(0, 60)}`}
          d={d}
          fill={line ? 'none' : colour}
          stroke={line ? colour : 'none'}
          strokeWidth="1.5"
          vectorEffect="non-scaling-stroke"
        />
      ))}
    </svg>
  )
}

function Tool(props: ComponentProps<typeof IconTool>) {
  return (
    <IconTool size="xs" variant="ghost" color="softInk" _hover={{ bg: 'paper', color: 'ink' }} {...props} />
  )
}
