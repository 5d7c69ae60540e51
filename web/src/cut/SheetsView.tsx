import { Box, chakra } from '@chakra-ui/react'
import { memo, useEffect, useLayoutEffect, useMemo, useRef } from 'react'
import { useUnit } from '../evaluation/store'
import { useGroundSize, usePanAndPinch, useWheelZoom } from '../workbench/ground'
import { Rulers } from '../workbench/Rulers'
import { seenBox, useView } from '../workbench/view'
import { OneSheet } from './OneSheet'
import { type Sheet, type Sheets, spread } from './plan'
import { chooseCopy } from './store'
import { useSheet } from './useSheets'

const Surface = chakra('svg')

interface Props {
  sheets: Sheets | undefined
  stale: boolean
}

/** The sheets to scale on quiet ground, seen as the knife meets them. */
export const SheetsView = memo(function SheetsView({ sheets, stale }: Props) {
  const ground = useRef<HTMLDivElement>(null)
  const unit = useUnit()
  const view = useView()
  const { scale, x, y, side, fitted, fitTo, setWindow, zoomAt, pan, window: size } = view
  const { index } = useSheet(sheets)
  const aspect = size.width / Math.max(1, size.height)
  const places = useMemo(() => spread(sheets?.sheets ?? [], aspect || 1.5), [sheets, aspect])
  const all = sheets && around(sheets.sheets, places)
  const corner = places[index] ?? { x: 0, y: 0 }

  useGroundSize(ground, setWindow)

  // biome-ignore lint/correctness/useExhaustiveDependencies: another size of the window fits anew as well
  useLayoutEffect(() => {
    // Sheets are never mirrored here: what is cut from the back lies mirrored on them already.
    if (fitted && all) fitTo(seenBox(all, side))
  }, [fitted, all?.width, all?.height, fitTo, size, side])

  useWheelZoom(ground, zoomAt)
  const drag = usePanAndPinch(pan, zoomAt)
  return (
    <Box
      ref={ground}
      position="absolute"
      inset="0"
      bg="paper"
      overflow="hidden"
      cursor="grab"
      _active={{ cursor: 'grabbing' }}
      touchAction="none"
      role="application"
      aria-label="The sheets. Arrow keys move the view, plus and minus zoom."
      tabIndex={0}
      {...drag}
    >
      <Surface width="100%" height="100%" display="block" data-testid="sheets" data-stale={stale}>
        <title>{sheets ? `${sheets.sheets.length} sheets` : 'No sheets yet'}</title>
        <g opacity={stale ? 0.5 : 1}>
          {sheets?.sheets.map((sheet, n) => {
            const at = places[n] ?? { x: 0, y: 0 }
            return (
              <OneSheet
                key={`${sheet.film} ${sheet.number}`}
                sheets={sheets}
                sheet={sheet}
                index={n}
                active={n === index}
                left={x + at.x * scale}
                top={y + at.y * scale}
                scale={scale}
                places={places}
              />
            )
          })}
        </g>
      </Surface>
      <Rulers unit={unit} left={corner.x} top={corner.y} />
    </Box>
  )
})

function around(sheets: readonly Sheet[], places: readonly { x: number; y: number }[]) {
  const right = Math.max(1, ...sheets.map((sheet, n) => (places[n]?.x ?? 0) + sheet.width_mm))
  const bottom = Math.max(1, ...sheets.map((sheet, n) => (places[n]?.y ?? 0) + sheet.height_mm))
  return { x: 0, y: 0, width: right, height: bottom }
}

/** Keeps a look that suits sheets, and lets go of what was chosen when the stage is left. */
export function useFreshChoice() {
  useEffect(() => () => chooseCopy(null), [])
}
