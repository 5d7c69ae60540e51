import { Box, Flex } from '@chakra-ui/react'
import type { Artwork, Use } from '../../shared/design/recipe'
import { editOnce } from '../../shared/design/store'
import { USE_WORDS } from '../../shared/design/uses'
import { Choice } from '../../shared/fields/Choice'

const MOST_COLOURS = 12

/** What each colour of a drawing is for. */
export function ColourUses({ part }: { part: Artwork }) {
  const colours = [...new Set(part.items.map((item) => (item.film ?? '').toUpperCase()))]
  if (colours.length < 2 || colours.length > MOST_COLOURS) return null
  const uses = part.uses ?? {}
  const choose = (colour: string, use: Use) => {
    const { [colour]: _, ...rest } = uses
    editOnce({ uses: use === 'cut' ? rest : { ...rest, [colour]: use } })
  }
  return colours.map((colour, n) => (
    <Flex key={colour} align="center" gap="2.5">
      <Box
        bg={colour}
        width="22px"
        height="22px"
        borderRadius="full"
        borderWidth="1px"
        borderColor="edge"
        flexShrink="0"
      />
      <Choice
        label={`What colour ${n + 1} is for`}
        value={uses[colour] ?? 'cut'}
        options={USE_WORDS}
        onChange={(use) => choose(colour, use)}
      />
    </Flex>
  ))
}
