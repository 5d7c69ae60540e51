import { chakra, Flex, Text } from '@chakra-ui/react'
import { Star } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import type { FaceOut, Unit } from '../../shared/design/recipe'
import { showNumber } from '../../shared/design/units'
import { useSample } from '../../shared/faces/useFaces'
import { type Joins, joinsIn, KIND_NAMES } from './faceChoice'
import { RatingProgress } from './OwnFaces'
import { SampleDrawing } from './SampleDrawing'

const Row = chakra('div')

interface Props {
  face: FaceOut
  text: string
  chosen: boolean
  onChoose: () => void
  onTake: () => void
  /** The size in use, which says how thin the thinnest stroke is. */
  sizeMm: number | undefined
  unit: Unit
  /** The writing system of the words. */
  system: string
}

/** A face with the typed word, and what is measured of it. */
export function FaceRow({ face, text, chosen, onChoose, onTake, sizeMm, unit, system }: Props) {
  const row = useRef<HTMLDivElement>(null)
  const sample = useSample(text, face.slug, useInSight(row))
  const lacks = sample?.lacks ?? []
  const joins = joinsIn(face, system)
  return (
    <Row
      ref={row}
      role="option"
      aria-selected={chosen}
      aria-label={face.name}
      data-face={face.slug}
      tabIndex={-1}
      onClick={onChoose}
      onDoubleClick={onTake}
      cursor="pointer"
      px="4"
      py="2.5"
      borderLeftWidth="3px"
      borderColor={chosen ? 'knife' : 'transparent'}
      bg={chosen ? 'knifeTint' : undefined}
      _hover={{ bg: chosen ? 'knifeTint' : 'paper' }}
      opacity={lacks.length > 0 ? 0.6 : 1}
      css={{ contentVisibility: 'auto', containIntrinsicSize: 'auto 118px' }}
    >
      <SampleDrawing sample={sample} height={52} />
      <Flex justify="space-between" fontSize="sm" mt="1.5" gap="3">
        <Flex align="center" gap="1.5" fontWeight="600" whiteSpace="nowrap">
          {face.favourite && <Star size={13} fill="currentColor" aria-label="a favourite" />}
          {face.name}
        </Flex>
        <Text color={lacks.length > 0 ? 'thin' : 'softInk'} truncate>
          {lacks.length > 0 ? `has no ${lacks.slice(0, 4).join(' ')}` : about(face)}
        </Text>
      </Flex>
      <Flex justify="space-between" align="center" fontSize="xs" color="softInk" gap="3">
        {joins ? (
          <>
            <Text truncate data-joins={joins.words}>
              {joining(joins)}
            </Text>
            {sizeMm !== undefined && <Text whiteSpace="nowrap">{measures(joins, sizeMm, unit)}</Text>}
          </>
        ) : (
          <RatingProgress share={face.rated_share} />
        )}
      </Flex>
    </Row>
  )
}

/** Whether a row is, or was, in sight or near it. */
function useInSight(row: React.RefObject<HTMLDivElement | null>): boolean {
  const [seen, setSeen] = useState(false)
  useEffect(() => {
    const element = row.current
    if (!element || seen) return
    const watch = new IntersectionObserver(
      (entries) => entries.some((e) => e.isIntersecting) && setSeen(true),
      {
        root: element.closest('[role=listbox]'),
        rootMargin: '240px',
      },
    )
    watch.observe(element)
    return () => watch.disconnect()
  }, [row, seen])
  return seen
}

/** "joins by itself: 97 %, capitals 48 %". */
function joining(joins: Joins): string {
  const percent = (share: number) => `${Math.round(share * 100)} %`
  const capitals = joins.capital > 0 ? `, capitals ${percent(joins.capital)}` : ''
  return `${joins.words}: ${percent(joins.small)}${capitals}`
}

/** "strokes 0.6, counters 1.1 mm": the thinnest and the smallest. */
function measures(joins: Joins, sizeMm: number, unit: Unit): string {
  const length = (share: number) => showNumber(share * sizeMm, unit, unit === 'in' ? 3 : 1)
  const counters = joins.counter > 0 ? `, counters ${length(joins.counter)}` : ''
  return `strokes ${length(joins.thinnest)}${counters} ${unit}`
}

function about(face: FaceOut): string {
  const kind = KIND_NAMES[face.kind] ?? face.kind
  if (face.axes.some((a) => a.tag === 'wght')) return `${kind}, any weight`
  return face.weights.length > 1 ? `${kind}, ${face.weights.length} weights` : kind
}
