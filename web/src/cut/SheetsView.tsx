import { Box, chakra } from '@chakra-ui/react'
import {
  type KeyboardEvent,
  memo,
  type PointerEvent,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
} from 'react'
import { useUnit } from '../evaluation/store'
import { KNIFE_INK, PIECE_TINTS } from '../theme'
import { usePanAndPinch, useWheelZoom } from '../workbench/ground'
import { Rulers } from '../workbench/Rulers'
import { seenBox, useView } from '../workbench/view'
import { copyKey, type LaidMotif, laidAsShown, motifOf, type Sheet, type Sheets, spread } from './plan'
import { chooseCopy, chooseSheet, useCut } from './store'
import { type Job, type JobAtWork, jobOf, useJobs, useLines, useWatched } from './useJobs'
import { editPlan, useSheet } from './useSheets'

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

  useLayoutEffect(() => {
    const element = ground.current
    if (!element) return
    const measure = () => setWindow(element.clientWidth, element.clientHeight)
    measure()
    const observer = new ResizeObserver(measure)
    observer.observe(element)
    return () => observer.disconnect()
  }, [setWindow])

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

interface SheetProps {
  sheets: Sheets
  sheet: Sheet
  index: number
  active: boolean
  /** Pixels: where its corner lies, and to the mm. */
  left: number
  top: number
  scale: number
  places: readonly { x: number; y: number }[]
}

/** A sheet with what lies on it, in pixels of the window. */
function OneSheet({ sheets, sheet, index, active, left, top, scale, places }: SheetProps) {
  const look = useView((s) => s.look)
  const mirrored = useSheetSide(sheet)
  const job = useWatched(jobOf(useJobs(), sheet))
  const wide = sheet.width_mm * scale
  const high = sheet.height_mm * scale
  const margin = sheet.margin_mm * scale
  return (
    <g transform={`translate(${left} ${top})`} data-sheet={index} data-active={active}>
      <rect
        width={wide}
        height={high}
        fill="var(--chakra-colors-card)"
        stroke={active ? 'var(--chakra-colors-ink)' : 'var(--chakra-colors-rule)'}
        strokeWidth={active ? 2 : 1}
        onPointerDown={() => chooseSheet(index)}
      />
      <rect width={wide} height={high} fill={sheet.film} opacity="0.16" pointerEvents="none" />
      <rect
        x={margin}
        y={margin}
        width={Math.max(0, wide - 2 * margin)}
        height={Math.max(0, high - 2 * margin)}
        fill="none"
        stroke="var(--chakra-colors-edge)"
        strokeDasharray="4 4"
        pointerEvents="none"
      />
      <g transform={`scale(${scale})`}>
        {sheet.helps.map((d) => (
          <path key={d} d={d} fill="none" stroke="var(--chakra-colors-edge)" strokeWidth={1.2 / scale} />
        ))}
      </g>
      {sheet.laid.map((laid, n) => (
        <Copy
          key={copyKey(laid)}
          sheets={sheets}
          sheet={sheet}
          index={index}
          laid={laid}
          scale={scale}
          places={places}
          tint={look === 'pieces' ? PIECE_TINTS[n % PIECE_TINTS.length] : undefined}
        />
      ))}
      {job ? <AtWork job={job} scale={scale} /> : <Order sheet={sheet} sheets={sheets} scale={scale} />}
      <text y={high + 18} fontWeight="650" fill="var(--chakra-colors-ink)" style={{ fontSize: 13 }}>
        {sheet.film_name}, sheet {sheet.number} of {sheet.of}
        {sheet.others.length > 0 && `, with ${sheet.others.join(' and ')}`}
      </text>
      {wide > 260 && (
        <text y={high + 34} fill="var(--chakra-colors-soft-ink)" style={{ fontSize: 12 }}>
          {mirrored ? 'Seen from the back, as the knife meets it' : 'As the knife meets it'}
        </text>
      )}
    </g>
  )
}

const useSheetSide = (sheet: Sheet) => useView((s) => s.side === -1) && sheet.laid.length > 0

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
function Copy({ sheets, sheet, index, laid, scale, places, tint }: CopyProps) {
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
      laid: laidAsShown(sheets, key, { onto: to.film, sheet: to.number - 1, x: x - at.x, y: y - at.y }),
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
    </g>
  )
}

const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}

/** The way of the carriage between the cuts, and numbers for what is free first. */
function Order({ sheet, sheets, scale }: { sheet: Sheet; sheets: Sheets; scale: number }) {
  const way = sheet.way.map(({ x, y }, n) => `${n ? 'L' : 'M'}${x * scale} ${y * scale}`).join('')
  return (
    <g pointerEvents="none">
      <path
        d={way}
        fill="none"
        stroke="var(--chakra-colors-hold)"
        strokeWidth="1.2"
        strokeDasharray="5 4"
        data-way
      />
      {sheet.laid.map((laid) => {
        const motif = motifOf(sheets, laid)
        if (!motif || motif.width * scale < 26) return null
        const upright = Math.abs(laid.turn % 180) < 45 || Math.abs(laid.turn % 180) > 135
        const [wide, high] = upright ? [motif.width, motif.height] : [motif.height, motif.width]
        return (
          <g
            key={copyKey(laid)}
            transform={`translate(${(laid.x - wide / 2) * scale + 2} ${(laid.y - high / 2) * scale + 2})`}
            data-number={laid.number}
          >
            <circle r="10" fill="var(--chakra-colors-hold)" />
            <text
              y="4"
              textAnchor="middle"
              fontWeight="700"
              fill="var(--chakra-colors-card)"
              style={{ fontSize: 11 }}
            >
              {laid.number}
            </text>
          </g>
        )
      })}
    </g>
  )
}

/** The cut as it happens: what is done, and where the knife is; in the end what did not come off. */
function AtWork({ job, scale }: { job: Job | JobAtWork; scale: number }) {
  const lines = useLines(job.id)
  const at = 'at' in job ? job.at : null
  if (!lines) return null
  return (
    <g pointerEvents="none" data-cutting={job.state}>
      <g transform={`scale(${scale})`} fill="none" strokeLinecap="round">
        <path
          d={lines.lines.slice(0, job.done).join('')}
          stroke="var(--chakra-colors-ink)"
          strokeWidth={2.2 / scale}
        />
      </g>
      {job.told?.wrong.map(({ what, box }) => (
        <rect
          key={`${what} ${box.x} ${box.y}`}
          x={box.x * scale - 4}
          y={box.y * scale - 4}
          width={box.width * scale + 8}
          height={box.height * scale + 8}
          fill="none"
          stroke={KNIFE_INK}
          strokeWidth="2"
          strokeDasharray={what === 'missing' ? '2 4' : undefined}
        />
      ))}
      {job.told?.tears.map((box) => (
        <circle
          key={`${box.x} ${box.y}`}
          cx={(box.x + box.width / 2) * scale}
          cy={(box.y + box.height / 2) * scale}
          r="7"
          fill="none"
          stroke="var(--chakra-colors-thin)"
          strokeWidth="2"
        />
      ))}
      {at && <Knife x={at.x * scale} y={at.y * scale} />}
    </g>
  )
}

function Knife({ x, y }: { x: number; y: number }) {
  return (
    <g transform={`translate(${x} ${y})`} data-knife>
      <path d="M0 0l-6 -10v-8h12v8z" fill="var(--chakra-colors-ink)" />
      <circle r="2.4" fill={KNIFE_INK} />
    </g>
  )
}

/** Keeps a look that suits sheets, and lets go of what was chosen when the stage is left. */
export function useFreshChoice() {
  useEffect(() => () => chooseCopy(null), [])
}
