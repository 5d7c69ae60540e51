import { Box, chakra, Text } from '@chakra-ui/react'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useCallback, useEffect, useState } from 'react'
import { answer, api } from '../../shared/api/client'
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
  const shown = waysFor(still, face)
  // Pictures are asked for one after the other, so that the outline of the work never waits for more than one.
  const [come, setCome] = useState({ part: still, count: 0 })
  const count = come.part === still ? come.count : 0
  const comes = useCallback(
    (n: number) =>
      setCome((now) => (now.part === still && now.count > n ? now : { part: still, count: n + 1 })),
    [still],
  )
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
      {waysFor(part, face).map((way) => {
        const place = shown.findIndex(({ name }) => name === way.name)
        const drawn = shown[place]
        return (
          <Choice key={way.name} type="button" aria-pressed={isJoinedSo(part, way)} onClick={() => take(way)}>
            {drawn ? (
              <WayPicture part={still} way={drawn} place={place} asked={place <= count} onCome={comes} />
            ) : (
              <NoPicture />
            )}
            <Text fontSize="xs" lineHeight="1.2">
              {way.name}
            </Text>
          </Choice>
        )
      })}
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

interface PictureProps {
  part: Lettering
  way: JoinWay
  place: number
  /** Whether it is its turn. */
  asked: boolean
  onCome: (place: number) => void
}

/** What a way makes of a lettering; until that has come, what it made of the one before. */
function WayPicture({ part, way, place, asked, onCome }: PictureProps) {
  const picture = useQuery({
    queryKey: ['way to join', part, way.name],
    queryFn: ({ signal }) => {
      const body = { recipe: shownAlone(useDesign.getState().recipe, part, way), part: part.id }
      return answer(api.POST('/api/frames/picture', { body, signal }))
    },
    enabled: asked,
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    retry: false,
  })
  const { data, isError, isSuccess, isPlaceholderData } = picture
  const hasCome = isError || (isSuccess && !isPlaceholderData)
  useEffect(() => {
    if (hasCome) onCome(place)
  }, [hasCome, place, onCome])
  if (!data?.box) return <NoPicture />
  return <OutlinePicture box={data.box} d={data.films.map((film) => film.d).join('')} />
}

const NoPicture = () => <Box bg="paper" borderRadius="sm" data-waiting />
