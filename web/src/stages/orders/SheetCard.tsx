import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { memo, useMemo } from 'react'
import { counted } from '../../shared/design/counted'
import { showLength } from '../../shared/design/units'
import type { Sheet, Sheets } from './order'
import { look } from './store'
import { useOrder } from './useOrder'

/** Pixels: the longest sides of a sheet among many, of one of a few, and of one that is looked at by itself. */
const SMALL = { wide: 290, high: 300 }
const MIDDLE = { wide: 440, high: 500 }
const LARGE = { wide: 900, high: 580 }
const FEW = 2

interface Props {
  sheets: Sheets
  sheet: Sheet
  large: boolean
}

/** A sheet to scale, with what lies on it. */
export const SheetCard = memo(function SheetCard({ sheets, sheet, large }: Props) {
  const { unit } = useOrder()
  const motifs = useMemo(() => new Map(sheets.motifs.map((motif) => [motif.key, motif])), [sheets])
  const most = large ? LARGE : sheets.sheets.length <= FEW ? MIDDLE : SMALL
  const scale = Math.min(most.wide / sheet.width_mm, most.high / sheet.height_mm)
  const { margin_mm: margin, width_mm: wide, height_mm: high } = sheet
  const name = `Sheet ${sheet.number}, ${sheet.film_name}`
  const left = showLength(sheet.room_left_mm, unit, 0)
  return (
    <Box role="listitem" aria-label={name} data-sheet={sheet.number} data-held={sheet.held}>
      <svg
        width={wide * scale}
        height={high * scale}
        viewBox={`0 0 ${wide} ${high}`}
        role="img"
        aria-label={`${name}: ${counted(sheet.laid.length, 'copy', 'copies')}`}
      >
        <rect width={wide} height={high} fill="var(--chakra-colors-card)" />
        <rect width={wide} height={high} fill={sheet.film} opacity="0.16" />
        <rect
          width={wide}
          height={high}
          fill="none"
          stroke="var(--chakra-colors-edge)"
          strokeWidth={2 / scale}
        />
        <rect
          x={margin}
          y={margin}
          width={Math.max(0, wide - 2 * margin)}
          height={Math.max(0, high - 2 * margin)}
          fill="none"
          stroke="var(--chakra-colors-edge)"
          strokeWidth={1 / scale}
          strokeDasharray={`${4 / scale} ${4 / scale}`}
        />
        {sheet.laid.map((laid) => {
          const motif = motifs.get(laid.motif)
          return motif ? (
            <g
              key={`${laid.motif} ${laid.copy_number}`}
              transform={`translate(${laid.x} ${laid.y}) rotate(${laid.turn})`}
              data-laid={laid.row}
            >
              <title>{`Row ${laid.row}`}</title>
              <path d={motif.d} fill={motif.film} fillRule="evenodd" />
              {motif.marks && (
                <path
                  d={motif.marks}
                  data-numbers
                  fill="none"
                  stroke="var(--chakra-colors-ink)"
                  strokeWidth={Math.max(0.25, 0.8 / scale)}
                />
              )}
            </g>
          ) : null
        })}
      </svg>
      <Flex mt="2" gap="3" align="center" maxWidth={`${Math.max(260, wide * scale)}px`}>
        <Text fontWeight="650" flex="1" minWidth="0" truncate>
          {name}
        </Text>
        {sheets.sheets.length > 1 && (
          <Button
            size="xs"
            variant="outline"
            aria-label={large ? 'All sheets' : `Look at sheet ${sheet.number}`}
            onClick={() => look({ sheet: large ? null : sheet.number })}
          >
            {large ? 'All sheets' : 'Look closer'}
          </Button>
        )}
      </Flex>
      <Text color="softInk" fontSize="sm" maxWidth={`${Math.max(260, wide * scale)}px`}>
        {counted(sheet.pieces, 'piece')}, {Math.round(sheet.used * 100)} % used
        {sheet.roll ? `, ${showLength(sheet.height_mm, unit, 0)} of the roll` : `, ${left} left at its end`}
        {sheet.held && (
          <Text as="span" fontWeight="600" color="thin">
            , waits until it is full
          </Text>
        )}
      </Text>
    </Box>
  )
})
