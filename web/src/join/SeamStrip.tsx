import { Box, chakra, Flex, Text } from '@chakra-ui/react'
import { memo, useEffect, useRef } from 'react'
import type { Measured, Unit } from '../design/recipe'
import { useDesign } from '../design/store'
import { useView } from '../workbench/view'
import { useJoin } from './joinState'
import { type Seam, SeamIcon, STATE_INKS, STATE_WORDS } from './SeamMark'
import { around, figure, seamKey } from './seams'

interface Props {
  evaluation: Measured | undefined
  unit: Unit
}

/** Every seam large, side by side in reading order: Tab goes from one to the next, and the work follows. */
export const SeamStrip = memo(function SeamStrip({ evaluation, unit }: Props) {
  const seams = evaluation?.seams ?? []
  return (
    <Flex
      as="section"
      aria-label="Seams"
      height="strip"
      flexShrink="0"
      bg="paper"
      borderTopWidth="1px"
      borderColor="rule"
      px="3"
      py="2.5"
      gap="2"
      overflowX="auto"
    >
      {evaluation && <StripFilm evaluation={evaluation} />}
      {evaluation &&
        seams.map((seam) => <Card key={seamKey(seam)} seam={seam} evaluation={evaluation} unit={unit} />)}
      {seams.length === 0 && (
        <Text color="softInk" alignSelf="center" px="2">
          Seams show here: where one letter meets the next. A single letter has none.
        </Text>
      )}
    </Flex>
  )
})

/** The welded film and the letters' own outlines, drawn once for all cards. */
function StripFilm({ evaluation }: { evaluation: Measured }) {
  return (
    <svg width="0" height="0" style={{ position: 'absolute' }} aria-hidden="true">
      <defs>
        <g id="strip-film">
          {evaluation.films.map((film) => (
            <path key={film.colour} d={film.pieces.map((piece) => piece.d).join('')} fill={film.colour} />
          ))}
        </g>
        <g id="strip-edge">
          {evaluation.films.map((film) => (
            <path
              key={film.colour}
              d={film.pieces.map((piece) => piece.d).join('')}
              fill="none"
              stroke="var(--chakra-colors-knife)"
              strokeWidth="1.75"
              vectorEffect="non-scaling-stroke"
            />
          ))}
        </g>
      </defs>
    </svg>
  )
}

const Button = chakra('button')

function Card({ seam, evaluation, unit }: { seam: Seam; evaluation: Measured; unit: Unit }) {
  const inPart = useDesign((s) => s.partId === seam.part)
  const chosen = useJoin((s) => s.seam === seam.left) && inPart
  const card = useRef<HTMLButtonElement>(null)
  const view = around(seam, evaluation, 0.3)
  const [a, b] = seam.ends
  useEffect(() => {
    if (chosen) card.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
  }, [chosen])

  function look() {
    useDesign.getState().choosePart(seam.part)
    useJoin.getState().chooseSeam(seam.left, seam.right)
    useView.getState().show(around(seam, evaluation, 1.1))
  }

  return (
    <Button
      ref={card}
      type="button"
      data-seam={`${seam.left_text}${seam.right_text}`}
      data-state={seam.state}
      aria-pressed={chosen}
      aria-label={`Seam ${seam.left_text} ${seam.right_text}: ${STATE_WORDS[seam.state]}, ${figure(seam, unit)}`}
      onFocus={look}
      onClick={look}
      display="flex"
      flexDirection="column"
      flex="1 0 {sizes.seamCard}"
      minWidth="seamCard"
      maxWidth="seamCardWidest"
      bg="card"
      borderWidth="1px"
      borderColor={chosen ? 'ink' : 'rule'}
      boxShadow={chosen ? '0 0 0 1px {colors.ink}' : 'none'}
      borderRadius="md"
      overflow="hidden"
      cursor="pointer"
      textAlign="left"
      outlineOffset="1px"
    >
      <Box width="full" flex="1" minHeight="0" bg="paper">
        <svg
          width="100%"
          height="100%"
          viewBox={`${view.x} ${view.y} ${view.width} ${view.height}`}
          preserveAspectRatio="xMidYMid slice"
          aria-hidden="true"
        >
          <use href="#strip-film" />
          {/* The two letters' own outlines, inside the weld only: its edge is drawn over them. */}
          <g fill="none" stroke="var(--chakra-colors-card)" strokeWidth="1" strokeDasharray="2.5 2">
            {evaluation.letters
              .filter((l) => l.part === seam.part && (l.id === seam.left || l.id === seam.right))
              .map((l) => (
                <path key={l.id} d={l.d} vectorEffect="non-scaling-stroke" />
              ))}
          </g>
          <use href="#strip-edge" />
          {a && b && (
            <>
              <path
                d={`M${a.x} ${a.y}L${b.x} ${b.y}`}
                stroke="var(--chakra-colors-card)"
                strokeWidth="4.5"
                strokeLinecap="round"
                vectorEffect="non-scaling-stroke"
              />
              <path
                d={`M${a.x} ${a.y}L${b.x} ${b.y}`}
                stroke={STATE_INKS[seam.state]}
                strokeWidth="2.25"
                vectorEffect="non-scaling-stroke"
              />
            </>
          )}
        </svg>
      </Box>
      <Flex width="full" align="center" justify="space-between" gap="1" pl="2" pr="1.5" py="1">
        <Box minWidth="0">
          <Text fontWeight="650" fontSize="sm" lineHeight="1.15" truncate>
            {seam.left_text} · {seam.right_text}
          </Text>
          <Text
            fontSize="xs"
            lineHeight="1.3"
            fontVariantNumeric="tabular-nums"
            whiteSpace="nowrap"
            color={seam.state === 'joined' ? 'ink' : STATE_INKS[seam.state]}
            fontWeight={seam.state === 'joined' ? '450' : '600'}
            data-figure
          >
            {figure(seam, unit)}
          </Text>
        </Box>
        <SeamIcon state={seam.state} />
      </Flex>
    </Button>
  )
}
