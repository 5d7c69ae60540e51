import { Box, Button, chakra, Flex, Input, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { useDesign } from '../../shared/design/store'
import {
  type LibraryShape,
  LibraryShapePicture,
  useLibraryShapes,
} from '../../shared/fields/LibraryShapePicture'
import { Tile } from '../../shared/fields/Tile'
import { middleOfView, put } from './actions'
import { newPart } from './parts'
import { useBuild } from './store'

const Choice = chakra(Tile, {
  base: {
    display: 'grid',
    gridTemplateRows: '64px auto',
    justifyItems: 'center',
    gap: '1',
    p: '2',
    fontSize: 'sm',
    _hover: { borderColor: 'ink' },
  },
})

const GROUPS: Record<string, string> = {
  plates: 'Plates and bands',
  signs: 'Signs',
  nature: 'Out of doors',
  boats: 'Boats',
}

/** How wide a new shape is. */
const WIDE_MM = 60

/** The shape library, by picture. */
export function ShapeLibrary() {
  const forms = useLibraryShapes() ?? []
  const [wanted, setWanted] = useState('')
  const { pick } = useBuild.getState()
  const found = forms.filter((form) => form.name.includes(wanted.trim().toLowerCase()))

  function take(form: LibraryShape) {
    const wide = form.ratio >= 1 ? WIDE_MM : WIDE_MM * form.ratio
    const size = { form: form.name, width_mm: wide, height_mm: wide / form.ratio }
    put(newPart(useDesign.getState().recipe, 'shape', size, middleOfView()))
    pick(null)
  }

  return (
    <Flex direction="column" minHeight="0" flex="1">
      <Flex gap="2" p="4" pb="2" align="center">
        <Input
          size="sm"
          bg="card"
          borderColor="edge"
          placeholder="Find a shape"
          aria-label="Find a shape"
          autoFocus
          value={wanted}
          onChange={(e) => setWanted(e.target.value)}
        />
        <Button size="sm" variant="outline" onClick={() => pick(null)}>
          Back
        </Button>
      </Flex>
      <Box overflowY="auto" flex="1" px="4" pb="4">
        {Object.entries(GROUPS).map(([group, title]) => {
          const own = found.filter((form) => form.group === group)
          if (own.length === 0) return null
          return (
            <Box key={group} as="section" mt="3">
              <Text as="h2" fontWeight="700" mb="2">
                {title}
              </Text>
              <Box display="grid" gridTemplateColumns="repeat(4, 1fr)" gap="2">
                {own.map((form) => (
                  <Choice key={form.name} type="button" onClick={() => take(form)}>
                    <LibraryShapePicture shape={form} />
                    {form.name}
                  </Choice>
                ))}
              </Box>
            </Box>
          )
        })}
        {found.length === 0 && <Text mt="4">{`There is no shape called “${wanted.trim()}”.`}</Text>}
      </Box>
    </Flex>
  )
}
