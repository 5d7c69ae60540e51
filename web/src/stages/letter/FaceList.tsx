import { Box, chakra, Text } from '@chakra-ui/react'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useRef } from 'react'
import type { FaceOut } from '../../shared/design/recipe'
import { useDesign, usePart } from '../../shared/design/store'
import { usePartView } from '../../shared/evaluation/store'
import { useFaces, useSettledWords } from '../../shared/faces/useFaces'
import { FaceRow, ROW_HIGH } from './FaceRow'

/** Rows beyond those in sight: their words are there when they come. */
const BEYOND = 3

// The style of all rows: they are made while the list is scrolled, so each by itself has none.
const Rows = chakra('div', {
  base: {
    position: 'relative',
    '& > [role=option]': {
      cursor: 'pointer',
      position: 'absolute',
      insetX: '0',
      height: `${ROW_HIGH}px`,
      overflow: 'hidden',
      px: '4',
      py: '2.5',
      borderLeftWidth: '3px',
      borderColor: 'transparent',
      _hover: { bg: 'paper' },
      '&[aria-selected=true], &[aria-selected=true]:hover': { borderColor: 'knife', bg: 'knifeTint' },
      '&[data-lacks]': { opacity: 0.6 },
      '&[data-lacks] .told': { color: 'thin' },
      '& > div': { display: 'flex', alignItems: 'center', justifyContent: 'space-between', gap: '3' },
      '& > .known': { fontSize: 'sm', mt: '1.5' },
      '& > .measured': { fontSize: 'xs', color: 'softInk' },
      '& .name': {
        display: 'flex',
        alignItems: 'center',
        gap: '1.5',
        fontWeight: '600',
        whiteSpace: 'nowrap',
      },
      '& .told': { color: 'softInk' },
      '& .told, & [data-joins]': { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' },
      '& .lengths': { whiteSpace: 'nowrap' },
    },
  },
})

/** Pixels: about how much of the window is not the list. */
const ABOUT_ELSE = 340

const aboutHigh = () => window.innerHeight - ABOUT_ELSE

/** Which row of a list comes first in sight when it opens on a face. */
const firstInSight = (faces: readonly FaceOut[], slug: string) =>
  Math.max(0, faces.findIndex((face) => face.slug === slug) - 1)

/** The faces in sight when their list opens on one of them. */
export function facesInSight(faces: readonly FaceOut[], slug: string): FaceOut[] {
  const first = firstInSight(faces, slug)
  return faces.slice(first, first + Math.ceil(aboutHigh() / ROW_HIGH))
}

interface Props {
  faces: readonly FaceOut[]
  /** The writing system of the words. */
  system: string
  onChoose: (face: FaceOut) => void
  onTake: () => void
}

/** Faces, each with the typed words; only those in sight are drawn. The one in use is brought into sight. */
export function FaceList({ faces, system, onChoose, onTake }: Props) {
  const text = useSettledWords(usePart((part) => part.text))
  const inUse = usePart((part) => part.face.family)
  const unit = useDesign((s) => s.recipe.unit)
  const sizeMm = usePartView()?.size_mm
  const areKnown = useFaces().length > 0
  const list = useRef<HTMLDivElement>(null)
  const at = faces.findIndex((face) => face.slug === inUse)
  const rows = useVirtualizer({
    count: faces.length,
    getScrollElement: () => list.current,
    estimateSize: () => ROW_HIGH,
    getItemKey: (n) => faces[n]?.slug ?? n,
    overscan: BEYOND,
    initialOffset: firstInSight(faces, inUse) * ROW_HIGH,
    // Until it is known how high the list is: rows are there at once, and are not made twice.
    initialRect: { width: 0, height: aboutHigh() },
  })

  // biome-ignore lint/correctness/useExhaustiveDependencies: when the list is there, and when another face is used
  useEffect(() => {
    if (at >= 0) rows.scrollToIndex(at)
  }, [faces.length > 0, inUse])

  return (
    <Box
      ref={list}
      role="listbox"
      aria-label="Faces"
      tabIndex={0}
      overflowY="auto"
      // Nothing shines through, so the browser moves what is painted instead of painting it anew.
      bg="card"
      flex="1"
      minHeight="0"
      py="1"
      _focusVisible={{ outlineOffset: '-2px' }}
    >
      <Rows role="presentation" style={{ height: `${rows.getTotalSize()}px` }}>
        {rows.getVirtualItems().map(({ index, key, start }) => {
          const face = faces[index]
          return (
            face && (
              <FaceRow
                key={key}
                face={face}
                text={text}
                chosen={face.slug === inUse}
                top={start}
                place={index + 1}
                of={faces.length}
                onChoose={onChoose}
                onTake={onTake}
                sizeMm={sizeMm}
                unit={unit}
                system={system}
              />
            )
          )
        })}
      </Rows>
      {faces.length === 0 && areKnown && (
        <Text color="softInk" p="4">
          No face is like that. Clear the search, or choose “All” and any look.
        </Text>
      )}
    </Box>
  )
}
