import { copyKey, motifOf, type Sheet, type Sheets, stockOf } from '../../shared/design/cutPlan'
import { useDesign } from '../../shared/design/store'
import type { Job, JobAtWork } from '../../shared/jobs/jobs'
import { KNIFE_INK, PIECE_TINTS } from '../../shared/theme'
import { useView } from '../../shared/view/view'
import { Copy } from './Copy'
import { chooseSheet } from './store'
import { jobOf, useJobs, useLines, useWatched } from './useJobs'

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
export function OneSheet({ sheets, sheet, index, active, left, top, scale, places }: SheetProps) {
  const look = useView((s) => s.look)
  const mirrored = useMirrored(sheet)
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
        {sheet.weeding_cuts.map((d) => (
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
          {mirrored ? 'Seen from the back, as the machine meets it' : 'As the machine meets it'}
        </text>
      )}
    </g>
  )
}

/** Whether a sheet is cut from its back. */
const useMirrored = (sheet: Sheet) =>
  useDesign(({ recipe }) => stockOf(recipe.cut, sheet.film).mirror ?? recipe.mirror)

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
        // What is only drawn is never free.
        if (!motif || laid.number === 0 || motif.width * scale < 26) return null
        const upright = Math.abs(laid.turn % 180) < 45 || Math.abs(laid.turn % 180) > 135
        const [wide, high] = upright ? [motif.width, motif.height] : [motif.height, motif.width]
        const size = Math.min(10, Math.max(7, (high * scale) / 4))
        return (
          <g
            key={copyKey(laid)}
            transform={`translate(${(laid.x - wide / 2) * scale + 2} ${(laid.y - high / 2) * scale + 2})`}
            data-number={laid.number}
          >
            <circle r={size} fill="var(--chakra-colors-hold)" />
            <text
              y={size * 0.38}
              textAnchor="middle"
              fontWeight="700"
              fill="var(--chakra-colors-card)"
              style={{ fontSize: size * 1.15 }}
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
          strokeWidth={1.6 / scale}
        />
      </g>
      {job.outcome?.wrong.map(({ what, box }) => (
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
      {job.outcome?.tears.map((box) => (
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
