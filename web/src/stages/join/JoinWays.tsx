import { Box, chakra, Text } from '@chakra-ui/react'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { answer, api, type Schemas } from '../../shared/api/client'
import { type Lettering, type Recipe, withPart } from '../../shared/design/recipe'
import { editOnce, partNow, useDesign, usePart } from '../../shared/design/store'
import { useFaces } from '../../shared/faces/useFaces'
import { OutlinePicture, Tile } from '../../shared/fields/Tile'
import { isJoinedSo, type JoinWay, waysFor } from './ways'

const Choice = chakra(Tile, {
  base: { display: 'grid', gridTemplateRows: '40px auto', gap: '1', p: '1.5' },
})

/** Pictures are made anew once nothing has changed for this long: they keep nobody waiting. */
const STILL_MS = 1200

/** Ways to join the whole lettering, each shown by picture and taken with one click. */
export function JoinWays() {
  const part = usePart((now) => now)
  const still = useStill(part)
  const face = useFaces().find(({ slug }) => slug === part.face.family)
  const ways = waysFor(part, face)
  const pictures = usePictures(still, waysFor(still, face))
  if (part.text.trim() === '') return null

  function take(way: JoinWay) {
    editOnce(way.take(partNow()))
  }

  return (
    <Box
      display="grid"
      gridTemplateColumns="repeat(3, minmax(0, 1fr))"
      gap="1.5"
      role="group"
      aria-label="Ways to join, by picture"
    >
      {ways.map((way) => (
        <Choice key={way.name} type="button" aria-pressed={isJoinedSo(part, way)} onClick={() => take(way)}>
          <WayPicture picture={pictures.get(way.name)} />
          <Text fontSize="xs" lineHeight="1.2">
            {way.name}
          </Text>
        </Choice>
      ))}
    </Box>
  )
}

/** A value as it was when it last stood still. */
function useStill<T>(value: T): T {
  const [still, setStill] = useState(value)
  useEffect(() => {
    const wait = setTimeout(() => setStill(value), STILL_MS)
    return () => clearTimeout(wait)
  }, [value])
  return still
}

const shownAlone = (recipe: Recipe, part: Lettering, way: JoinWay): Recipe => ({
  ...withPart(recipe, part.id, way.take(part)),
  bars: [],
  touch_ups: [],
  accepted_findings: [],
})

type Picture = Schemas['PictureOut']

/** The pictures of a lettering by the names of its ways. They are asked for one after the other, so that the outline
 * of the work never waits for more than one of them. */
function usePictures(part: Lettering, ways: readonly JoinWay[]): ReadonlyMap<string, Picture> {
  const { data } = useQuery({
    queryKey: ['ways to join', part, ways.map(({ name }) => name)],
    queryFn: async ({ signal }) => {
      const pictures = new Map<string, Picture>()
      const { recipe } = useDesign.getState()
      for (const way of ways) {
        const body = { recipe: shownAlone(recipe, part, way), part: part.id }
        pictures.set(way.name, await answer(api.POST('/api/frames/picture', { body, signal })))
      }
      return pictures
    },
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    retry: false,
  })
  return data ?? NONE
}

const NONE: ReadonlyMap<string, Picture> = new Map()

function WayPicture({ picture }: { picture: Picture | undefined }) {
  if (!picture?.box) return <Box bg="paper" borderRadius="sm" data-waiting />
  return <OutlinePicture box={picture.box} d={picture.films.map((film) => film.d).join('')} />
}
