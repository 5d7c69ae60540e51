import { memo, useEffect, useLayoutEffect, useMemo } from 'react'
import { type Sheet, type Sheets, spread } from '../../shared/design/cutPlan'
import { Ground } from '../../shared/view/Ground'
import { seenBox, useView } from '../../shared/view/view'
import { OneSheet } from './OneSheet'
import { chooseCopy } from './store'
import { useSheet } from './useSheets'

interface Props {
  sheets: Sheets | undefined
  stale: boolean
}

/** The sheets to scale on quiet ground, seen as the machine meets them. */
export const SheetsView = memo(function SheetsView({ sheets, stale }: Props) {
  const view = useView()
  const { scale, x, y, side, fitted, fitTo, window: size } = view
  const { index } = useSheet(sheets)
  const aspect = size.width / Math.max(1, size.height)
  const places = useMemo(() => spread(sheets?.sheets ?? [], aspect || 1.5), [sheets, aspect])
  const all = sheets && around(sheets.sheets, places)
  const corner = places[index] ?? { x: 0, y: 0 }

  // biome-ignore lint/correctness/useExhaustiveDependencies: another size of the window fits anew as well
  useLayoutEffect(() => {
    // Sheets are never mirrored here: what is cut from the back lies mirrored on them already.
    if (fitted && all) fitTo(seenBox(all, side))
  }, [fitted, all?.width, all?.height, fitTo, size, side])

  return (
    <Ground
      label="The sheets."
      title={sheets ? `${sheets.sheets.length} sheets` : 'No sheets yet'}
      testId="sheets"
      stale={stale}
      corner={corner}
    >
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
    </Ground>
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
