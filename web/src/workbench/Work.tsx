import { Box, chakra } from '@chakra-ui/react'
import { memo, type PointerEvent, type ReactNode, useEffect, useLayoutEffect, useRef } from 'react'
import type { Evaluation, Unit } from '../design/recipe'
import { showLength } from '../design/units'
import { KNIFE_INK, PIECE_TINTS } from '../theme'
import { Rulers } from './Rulers'
import { type Look, useView } from './view'

interface Props {
  evaluation: Evaluation | undefined
  unit: Unit
  /** The outline is of an earlier recipe: it is shown, but faintly. */
  stale: boolean
  /** Height of a capital is what the maker sizes by: it is shown too. */
  showCapitals: boolean
  /** What a stage lays over the work: in its millimetres, and in the window's pixels. */
  over: { inMm: ReactNode; inPx: ReactNode } | null
}

const Surface = chakra('svg')

/** The work on quiet ground, with rulers; wheel or pinch zooms to the pointer, dragging moves it. */
export const Work = memo(function Work({ evaluation, unit, stale, showCapitals, over }: Props) {
  const ground = useRef<HTMLDivElement>(null)
  const { scale, x, y, look, fitted, fit, setWindow, zoomAt, pan, window: size } = useView()
  const box = evaluation?.box

  useLayoutEffect(() => {
    const element = ground.current
    if (!element) return
    const measure = () => setWindow(element.clientWidth, element.clientHeight)
    measure()
    const observer = new ResizeObserver(measure)
    observer.observe(element)
    return () => observer.disconnect()
  }, [setWindow])

  // biome-ignore lint/correctness/useExhaustiveDependencies: a new window size fits anew as well
  useLayoutEffect(() => {
    if (fitted && box) fit(box)
  }, [fitted, box, fit, size])

  useEffect(() => {
    const element = ground.current
    if (!element) return
    const onWheel = (event: WheelEvent) => {
      event.preventDefault()
      const { left, top } = element.getBoundingClientRect()
      zoomAt(
        Math.exp(-event.deltaY * (event.ctrlKey ? 0.01 : 0.0015)),
        event.clientX - left,
        event.clientY - top,
      )
    }
    element.addEventListener('wheel', onWheel, { passive: false })
    return () => element.removeEventListener('wheel', onWheel)
  }, [zoomAt])

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
      aria-label="The work. Arrow keys move the view, plus and minus zoom."
      tabIndex={0}
      {...drag}
    >
      <Surface width="100%" height="100%" display="block" data-testid="work" data-stale={stale}>
        <title>{evaluation ? describe(evaluation, unit) : 'Nothing yet'}</title>
        {evaluation && (
          <g transform={`translate(${x} ${y}) scale(${scale})`} opacity={stale ? 0.35 : 1}>
            <Outlines evaluation={evaluation} look={look} scale={scale} />
            {over?.inMm}
          </g>
        )}
        {evaluation && <Guides evaluation={evaluation} unit={unit} showCapitals={showCapitals} />}
        {over?.inPx}
      </Surface>
      <Rulers unit={unit} origin={box ?? { x: 0, y: 0 }} />
    </Box>
  )
})

function describe({ box, films }: Evaluation, unit: Unit): string {
  const count = films.reduce((sum, film) => sum + film.pieces.length, 0)
  return `${count} ${count === 1 ? 'piece' : 'pieces'}, ${showLength(box.width, unit)} by ${showLength(box.height, unit)}`
}

/** One finger or button moves the view; two fingers pinch. */
function usePanAndPinch(
  pan: (dx: number, dy: number) => void,
  zoomAt: (f: number, x: number, y: number) => void,
) {
  const touches = useRef(new Map<number, { x: number; y: number }>())
  const end = (event: PointerEvent) => touches.current.delete(event.pointerId)
  return {
    onPointerDown: (event: PointerEvent<HTMLElement>) => {
      if (event.button > 1) return
      event.currentTarget.setPointerCapture(event.pointerId)
      touches.current.set(event.pointerId, { x: event.clientX, y: event.clientY })
    },
    onPointerMove: (event: PointerEvent<HTMLElement>) => {
      const before = touches.current.get(event.pointerId)
      if (!before) return
      const now = { x: event.clientX, y: event.clientY }
      touches.current.set(event.pointerId, now)
      const other = [...touches.current].find(([id]) => id !== event.pointerId)?.[1]
      if (other) {
        const { left, top } = event.currentTarget.getBoundingClientRect()
        const grown =
          Math.hypot(now.x - other.x, now.y - other.y) / Math.hypot(before.x - other.x, before.y - other.y)
        if (Number.isFinite(grown) && grown > 0) zoomAt(grown, other.x - left, other.y - top)
      } else pan(now.x - before.x, now.y - before.y)
    },
    onPointerUp: end,
    onPointerCancel: end,
  }
}

function Outlines({ evaluation, look, scale }: { evaluation: Evaluation; look: Look; scale: number }) {
  if (look === 'knife') {
    return (
      <>
        <g
          fill="none"
          stroke="var(--chakra-colors-edge)"
          strokeDasharray="2.5 2.5"
          strokeWidth="1.25"
          data-trace
        >
          {evaluation.letters.map((letter, index) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: letters are told apart by their place
            <path key={index} d={letter.d} vectorEffect="non-scaling-stroke" />
          ))}
        </g>
        <g fill="none" stroke={KNIFE_INK} strokeWidth="1.75" strokeLinejoin="round">
          {evaluation.films.flatMap((film) =>
            film.pieces.map((piece) => (
              <path key={piece.d} d={piece.d} vectorEffect="non-scaling-stroke" data-piece />
            )),
          )}
        </g>
      </>
    )
  }
  let number = 0
  return evaluation.films.map((film) => (
    <g key={film.colour}>
      {film.pieces.map((piece) => {
        const index = number++
        const tint = look === 'pieces' ? PIECE_TINTS[index % PIECE_TINTS.length] : film.colour
        return (
          <g key={piece.d}>
            <path d={piece.d} fill={tint} data-piece />
            {look === 'pieces' && (
              <PieceNumber
                number={index + 1}
                x={piece.box.x + piece.box.width / 2}
                y={piece.box.y}
                scale={scale}
              />
            )}
          </g>
        )
      })}
    </g>
  ))
}

/** The piece's number on a small tag at its top edge; the same size at any zoom. */
function PieceNumber({ number, x, y, scale }: { number: number; x: number; y: number; scale: number }) {
  return (
    <g transform={`translate(${x} ${y}) scale(${1 / scale})`}>
      <circle
        r="10"
        cy="-13"
        fill="var(--chakra-colors-card)"
        stroke="var(--chakra-colors-ink)"
        strokeWidth="1.25"
      />
      <text
        y="-9"
        textAnchor="middle"
        style={{ fontSize: 12 }}
        fontWeight="650"
        fill="var(--chakra-colors-ink)"
      >
        {number}
      </text>
    </g>
  )
}

/** The controls of the view lie over the work down to here: no dimension line runs below them. */
const CONTROLS_END = 56

/** Baselines, capital height, and the width and height as dimension lines. In window pixels. */
function Guides({
  evaluation,
  unit,
  showCapitals,
}: {
  evaluation: Evaluation
  unit: Unit
  showCapitals: boolean
}) {
  const { scale, x, y } = useView()
  const { box, parts } = evaluation
  const left = x + box.x * scale
  const right = left + box.width * scale
  const top = y + box.y * scale
  const bottom = top + box.height * scale
  const over = top - 34
  const beside = right + 30
  return (
    <g style={{ fontSize: 13 }} fill="var(--chakra-colors-ink)" stroke="none" pointerEvents="none">
      {parts.flatMap((part) =>
        part.baselines_mm.map((baseline) => {
          const at = y + baseline * scale
          return (
            <g key={`${part.id} ${baseline}`} stroke="var(--chakra-colors-edge)" strokeWidth="1">
              <path d={`M${left - 18} ${at}H${right + 18}`} strokeDasharray="1 5" strokeLinecap="round" />
              {showCapitals && (
                <path
                  d={`M${left - 18} ${at - part.capital_height_mm * scale}H${right + 18}`}
                  strokeDasharray="6 5"
                  opacity="0.6"
                />
              )}
            </g>
          )
        }),
      )}
      {over > CONTROLS_END && (
        <Dimension
          from={left}
          to={right}
          at={over}
          label={showLength(box.width, unit, unit === 'in' ? 2 : 1)}
        />
      )}
      <g transform={`translate(${beside} ${(top + bottom) / 2}) rotate(90)`}>
        <Dimension
          from={-(bottom - top) / 2}
          to={(bottom - top) / 2}
          at={0}
          label={showLength(box.height, unit, unit === 'in' ? 2 : 1)}
        />
      </g>
    </g>
  )
}

function Dimension({ from, to, at, label }: { from: number; to: number; at: number; label: string }) {
  const middle = (from + to) / 2
  const half = label.length * 3.8 + 8
  const fits = to - from > half * 2 + 16
  const line = fits ? `M${from} ${at}H${middle - half}M${middle + half} ${at}H${to}` : `M${from} ${at}H${to}`
  return (
    <g>
      <path
        d={`${line}M${from} ${at - 6}v12M${to} ${at - 6}v12`}
        fill="none"
        stroke="var(--chakra-colors-soft-ink)"
        strokeWidth="1"
      />
      <text x={middle} y={fits ? at + 4.5 : at - 9} textAnchor="middle" fontWeight="550">
        {label}
      </text>
    </g>
  )
}
