import { Box, Button, chakra, Flex, NativeSelect, Text } from '@chakra-ui/react'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, api, asProblem, type Schemas } from '../../shared/api/client'
import { findPart } from '../../shared/design/recipe'
import { selectionNow } from '../../shared/design/selection'
import { editOnce, useDesign } from '../../shared/design/store'
import { useFaces } from '../../shared/faces/useFaces'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { OutlinePicture, Tile } from '../../shared/fields/Tile'
import { middleOfView, put } from './actions'
import { newPart } from './parts'
import { useBuild } from './store'

type Glyph = Schemas['GlyphOut']

const AT_ONCE = 240

const Choice = chakra(Tile, {
  base: {
    height: '62px',
    p: '1.5',
    _hover: { borderColor: 'ink' },
  },
})

/** Every glyph of a face by its picture, to be put on the work like a shape. */
export function OrnamentPicker() {
  const faces = useFaces()
  const [family, setFamily] = useState('great-vibes')
  const [start, setStart] = useState(0)
  const { pick } = useBuild.getState()
  const face = { family, weight: null, axes: {} }
  const glyphs = useQuery({
    queryKey: ['glyphs', family, start],
    queryFn: ({ signal }) =>
      answer(api.POST('/api/faces/glyphs', { body: { face, start, count: AT_ONCE }, signal })),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
  })
  const total = glyphs.data?.total ?? 0
  const problem = glyphs.error && asProblem(glyphs.error)

  function take({ file, glyph }: Glyph) {
    const { recipe } = useDesign.getState()
    const now = findPart(recipe, selectionNow().part)
    if (now?.kind === 'ornament') editOnce({ face, file, glyph })
    else put(newPart(recipe, 'ornament', { face, file, glyph }, middleOfView()))
    pick(null)
  }

  return (
    <Flex direction="column" minHeight="0" flex="1">
      <Flex gap="2" p="4" pb="2" align="center">
        <NativeSelect.Root size="sm">
          <NativeSelect.Field
            aria-label="Face"
            value={family}
            bg="card"
            borderColor="edge"
            onChange={(e) => {
              setFamily(e.target.value)
              setStart(0)
            }}
          >
            {faces.map((f) => (
              <option key={f.slug} value={f.slug}>
                {f.name}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
        <Button size="sm" variant="outline" onClick={() => pick(null)}>
          Back
        </Button>
      </Flex>
      <Box overflowY="auto" flex="1" px="4" pb="4">
        {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
        <Box display="grid" gridTemplateColumns="repeat(5, 1fr)" gap="2">
          {glyphs.data?.glyphs.map((glyph) => (
            <Choice
              key={`${glyph.file} ${glyph.glyph}`}
              type="button"
              aria-label={glyph.name}
              title={glyph.name}
              onClick={() => take(glyph)}
            >
              <OutlinePicture box={glyph.box} d={glyph.d} />
            </Choice>
          ))}
        </Box>
        {total > AT_ONCE && (
          <Flex mt="3" gap="2" align="center" justify="space-between">
            <Button
              size="sm"
              variant="outline"
              disabled={start === 0}
              onClick={() => setStart(Math.max(0, start - AT_ONCE))}
            >
              Those before
            </Button>
            <Text fontSize="sm" color="softInk">
              {`${start + 1} to ${Math.min(total, start + AT_ONCE)} of ${total}`}
            </Text>
            <Button
              size="sm"
              variant="outline"
              disabled={start + AT_ONCE >= total}
              onClick={() => setStart(start + AT_ONCE)}
            >
              More
            </Button>
          </Flex>
        )}
      </Box>
    </Flex>
  )
}
