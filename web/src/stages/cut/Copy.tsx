import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react'
import {
  copyKey,
  type LaidMotif,
  laidAsShown,
  motifOf,
  type Sheet,
  type Sheets,
} from '../../shared/design/cutPlan'
import { KNIFE_INK } from '../../shared/theme'
import { MarkPath } from '../../shared/view/MarkPath'
import { useView } from '../../shared/view/view'
import { chooseCopy, chooseSheet, useCut } from './store'
import { editPlan } from './useSheets'

interface CopyProps {
  sheets: Sheets
  sheet: Sheet
  index: number
  laid: LaidMotif
  scale: number
  places: readonly { x: number; y: number }[]
  tint: string | undefined
}

/** What is laid as one: dragged to another place or sheet, or moved by arrow keys. */
export function Copy({ sheets, sheet, index, laid, scale, places, tint }: CopyProps) {
  const key = copyKey(laid)
  const look = useView((s) => s.look)
  const chosen = useCut((s) => s.chosen === key)
  const [by, setBy] = useState<{ dx: number; dy: number } | null>(null)
  const from = useRef<{ x: number; y: number } | null>(null)
  const motif = motifOf(sheets, laid)
  if (!motif) return null

  function onPointerDown(event: PointerEvent<SVGGElement>) {
    event.stopPropagation()
    event.currentTarget.setPointerCapture(event.pointerId)
    from.current = { x: event.clientX, y: event.clientY }
    chooseCopy(key)
    chooseSheet(index)
  }
  function onPointerMove(event: PointerEvent) {
    if (!from.current) return
    const dx = event.clientX - from.current.x
    const dy = event.clientY - from.current.y
    if (by || Math.hypot(dx, dy) > 3) setBy({ dx: dx / scale, dy: dy / scale })
  }
  function onPointerUp() {
    from.current = null
    if (!by) return
    setBy(null)
    const here = places[index] ?? { x: 0, y: 0 }
    const x = here.x + laid.x + by.dx
    const y = here.y + laid.y + by.dy
    // Dropped beside all sheets it stays on its own.
    const over = sheets.sheets.findIndex((other, n) => {
      const at = places[n] ?? { x: 0, y: 0 }
      return x >= at.x && x <= at.x + other.width_mm && y >= at.y && y <= at.y + other.height_mm
    })
    const to = sheets.sheets[over] ?? sheet
    const at = places[over === -1 ? index : over] ?? { x: 0, y: 0 }
    editPlan({
      laid: laidAsShown(sheets, key, { sheet_film: to.film, sheet: to.number - 1, x: x - at.x, y: y - at.y }),
    })
    if (over !== -1) chooseSheet(over)
  }
  function onKeyDown(event: KeyboardEvent) {
    if (event.key === 'Escape') return chooseCopy(null)
    const way = ARROWS[event.key]
    if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault()
      chooseCopy(key)
      chooseSheet(index)
    } else if (way) {
      event.preventDefault()
      event.stopPropagation()
      const step = event.shiftKey ? 10 : event.altKey ? 0.1 : 1
      editPlan({
        laid: laidAsShown(sheets, key, { x: laid.x + way[0] * step, y: laid.y + way[1] * step }),
      })
    } else if (event.key.toLowerCase() === 'r') {
      event.preventDefault()
      editPlan({ laid: laidAsShown(sheets, key, { turn: (laid.turn + (event.shiftKey ? 270 : 90)) % 360 }) })
    }
  }
  const at = { x: (laid.x + (by?.dx ?? 0)) * scale, y: (laid.y + (by?.dy ?? 0)) * scale }
  return (
    // biome-ignore lint/a11y/useSemanticElements: there is no button inside a drawing
    <g
      role="button"
      tabIndex={0}
      aria-label={`${motif.name}, copy ${laid.copy_number + 1}, number ${laid.number} to be free. Arrow keys move it, R turns it.`}
      aria-pressed={chosen}
      data-copy={key}
      transform={`translate(${at.x} ${at.y}) rotate(${laid.turn}) scale(${scale})`}
      cursor="move"
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onKeyDown={onKeyDown}
      style={{ outline: 'none' }}
    >
      <rect
        x={-motif.width / 2}
        y={-motif.height / 2}
        width={motif.width}
        height={motif.height}
        fill="transparent"
        stroke={chosen ? 'var(--chakra-colors-ink)' : 'none'}
        strokeWidth={1.2 / scale}
        strokeDasharray={`${4 / scale} ${3 / scale}`}
      />
      <path
        d={motif.d}
        fill={look === 'knife' ? 'none' : (tint ?? motif.film)}
        stroke={KNIFE_INK}
        strokeWidth={(look === 'knife' ? 1.3 : 0.8) / scale}
      />
      {motif.marks.map((mark) => (
        <MarkPath key={mark.d} mark={mark} />
      ))}
    </g>
  )
}

const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}
