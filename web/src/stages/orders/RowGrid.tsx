import { Box, Center, Text } from '@chakra-ui/react'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useLayoutEffect, useMemo, useRef, useState } from 'react'
import { rowsShown } from './order'
import { RowCard } from './RowCard'
import { useOrderView } from './store'
import { useOrder, useRows } from './useOrder'

/** Pixels: how wide a card is at least, and the room around it. */
const CARD = 178
const HIGH = 206
const GAP = 14

/** All rows that are shown, as cards; only those in sight are drawn. */
export function RowGrid() {
  const { rows } = useRows()
  const { unit } = useOrder()
  const { shown, sorted, typed, row: chosen } = useOrderView()
  const found = useMemo(() => rowsShown(rows, shown, sorted, typed), [rows, shown, sorted, typed])
  const ground = useRef<HTMLDivElement>(null)
  const width = useWidth(ground)
  const across = Math.max(1, Math.floor((width + GAP) / (CARD + GAP)))
  const lines = useVirtualizer({
    count: Math.ceil(found.length / across),
    getScrollElement: () => ground.current,
    estimateSize: () => HIGH + GAP,
    overscan: 3,
  })
  return (
    // Nothing shines through, so the browser moves what is painted instead of painting it anew.
    <Box ref={ground} bg="paper" flex="1" minHeight="0" overflowY="auto" px="5" py="3" data-testid="rows">
      {found.length === 0 ? (
        <Nothing any={rows.length > 0} />
      ) : (
        <Box position="relative" style={{ height: lines.getTotalSize() }} role="list" aria-label="Rows">
          {lines.getVirtualItems().map((line) => (
            // Placed by their own style: each new rule of a style sheet would have all of the page styled anew.
            <div
              key={line.key}
              style={{
                position: 'absolute',
                insetInline: 0,
                top: 0,
                transform: `translateY(${line.start}px)`,
                display: 'grid',
                gridTemplateColumns: `repeat(${across}, minmax(0, 1fr))`,
                gap: GAP,
              }}
            >
              {found.slice(line.index * across, (line.index + 1) * across).map((row) => (
                <RowCard key={row.number} row={row} unit={unit} chosen={row.number === chosen} />
              ))}
            </div>
          ))}
        </Box>
      )}
    </Box>
  )
}

function Nothing({ any }: { any: boolean }) {
  return (
    <Center height="full" minHeight="300px">
      <Text fontSize="xl" color="softInk" textAlign="center" maxWidth="420px">
        {any
          ? 'No row is like that.'
          : 'Paste a list of names on the left. Each is made from the design, and appears here.'}
      </Text>
    </Center>
  )
}

function useWidth(ground: React.RefObject<HTMLDivElement | null>): number {
  const [width, setWidth] = useState(900)
  useLayoutEffect(() => {
    const element = ground.current
    if (!element) return
    const measure = () => {
      const style = getComputedStyle(element)
      const padding = Number.parseFloat(style.paddingLeft) + Number.parseFloat(style.paddingRight)
      setWidth(element.clientWidth - padding)
    }
    measure()
    const observer = new ResizeObserver(measure)
    observer.observe(element)
    return () => observer.disconnect()
  }, [ground])
  return width
}
