import { Box, Button, chakra, Flex, Input, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, api, type Schemas } from '../api/client'
import { useDesign } from '../design/store'
import { Tile } from '../fields/Tile'
import { middleOfView, put } from './actions'
import { newPart } from './parts'
import { useBuild } from './store'

export type Form = Schemas['FormOfOut']

export const useForms = () =>
  useQuery({
    queryKey: ['forms'],
    queryFn: () => answer(api.GET('/api/forms')),
    staleTime: Number.POSITIVE_INFINITY,
  }).data

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
  const forms = useForms() ?? []
  const [wanted, setWanted] = useState('')
  const { pick } = useBuild.getState()
  const found = forms.filter((form) => form.name.includes(wanted.trim().toLowerCase()))

  function take(form: Form) {
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
                    <FormPicture form={form} />
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

/** A form of the library; pictures are 100 in their larger measure, around 0, 0. */
export function FormPicture({ form }: { form: Form }) {
  return (
    <svg width="100%" height="100%" viewBox="-52 -52 104 104" aria-hidden="true">
      <path d={form.d} fill="var(--chakra-colors-ink)" />
    </svg>
  )
}
