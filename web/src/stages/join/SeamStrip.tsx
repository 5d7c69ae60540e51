import { Box, chakra, Flex, Text } from '@chakra-ui/react'
import { memo, useDeferredValue, useEffect, useRef } from 'react'
import type { Unit } from '../../shared/design/recipe'
import { useSelection } from '../../shared/design/selection'
import {
  type Film,
  letterTransform,
  outlineOf,
  type Part,
  type Seam,
} from '../../shared/evaluation/evaluation'
import { useEvaluations, useLaterEvaluation, useUnit } from '../../shared/evaluation/store'
import { seenBox, useView } from '../../shared/view/view'
import { SeamIcon, STATE_INKS, STATE_WORDS } from './SeamMark'
import { around, figure, holds, lookAt, pairName, seamKey } from './seams'

/** Every seam large, side by side in reading order: Tab goes from one to the next, and the work follows. */
export const SeamStrip = memo(function SeamStrip() {
  const evaluation = useLaterEvaluation()
  const measured = useDeferredValue(useEvaluations((s) => s.measured))
  const unit = useUnit()
  const stage = useView((s) => s.stage)
  // What is not cut has nothing to hold: its seams are only of interest while they are shaped.
  const parts = evaluation?.parts.filter((part) => part.use === 'cut' || stage === 'join') ?? []
  const rows = parts.flatMap((part) => (measured?.get(part.id) ?? []).map((seam) => ({ part, seam })))
  // In Build it is how parts hold to each other that matters: that comes first.
  if (stage === 'build') rows.sort((a, b) => Number(b.seam.meets !== null) - Number(a.seam.meets !== null))
  if (stage === 'build' && rows.length === 0) return null
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
      {evaluation && <StripFilm films={evaluation.films} />}
      {rows.map(({ part, seam }) => (
        <Card key={seamKey(seam)} seam={seam} part={part} unit={unit} />
      ))}
      {rows.length === 0 && (
        <Text color="softInk" alignSelf="center" px="2">
          Seams show here: where one letter meets the next. A single letter has none.
        </Text>
      )}
    </Flex>
  )
})

/** The welded film, drawn once for all cards. */
const StripFilm = memo(function StripFilm({ films }: { films: Film[] }) {
  return (
    <svg width="0" height="0" style={{ position: 'absolute' }} aria-hidden="true">
      <defs>
        <g id="strip-film">
          {films.map((film) => (
            <path key={film.colour} d={outlineOf(film)} fill={film.colour} />
          ))}
        </g>
        <g id="strip-edge">
          {films.map((film) => (
            <path
              key={film.colour}
              d={outlineOf(film)}
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
})

const Button = chakra('button')

const Card = memo(function Card({ seam, part, unit }: { seam: Seam; part: Part; unit: Unit }) {
  const chosen = useSelection(
    ({ selection: s }) =>
      seam.meets === null && s.kind === 'seam' && s.part === seam.part && s.left === seam.left,
  )
  const side = useView((s) => s.side)
  const card = useRef<HTMLButtonElement>(null)
  const view = seenBox(around(seam, part.size_mm || 40, 0.3), side)
  const [a, b] = seam.ends
  useEffect(() => {
    if (chosen) card.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
  }, [chosen])

  const look = () => lookAt(seam, part.size_mm || 40)

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
          <g transform={`scale(${side} 1)`}>
            <use href="#strip-film" />
            {/* The two letters' own outlines, inside the weld only: its edge is drawn over them. */}
            <g fill="none" stroke="var(--chakra-colors-card)" strokeWidth="1" strokeDasharray="2.5 2">
              {part.letters
                .filter((l) => l.id === seam.left || (seam.meets === null && l.id === seam.right))
                .map((l) => (
                  <path
                    key={l.id}
                    d={l.d}
                    transform={letterTransform(part, l)}
                    vectorEffect="non-scaling-stroke"
                  />
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
          </g>
        </svg>
      </Box>
      <Box width="full" pl="2" pr="1.5" py="0.5">
        <Flex align="center" justify="space-between" gap="1">
          <Text minWidth="0" fontWeight="650" fontSize="sm" lineHeight="1.5" truncate>
            {pairName(seam.left_text, seam.right_text)}
          </Text>
          <SeamIcon state={seam.state} />
        </Flex>
        <Text
          fontSize="xs"
          lineHeight="1.3"
          fontVariantNumeric="tabular-nums"
          whiteSpace="nowrap"
          color={holds(seam) ? 'ink' : STATE_INKS[seam.state]}
          fontWeight={holds(seam) ? '450' : '600'}
          data-figure
        >
          {figure(seam, unit)}
        </Text>
      </Box>
    </Button>
  )
})
