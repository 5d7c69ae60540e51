import { chakra } from '@chakra-ui/react'
import { memo } from 'react'
import type { Unit } from '../design/recipe'
import { useView } from './view'

const RULER = 24
/** Room that a number takes along the ruler, in pixels. */
const LABEL = 26
const MM_PER_INCH = 25.4

/** Distances between ticks, in the unit: fine, middle and numbered. */
const MM_STEPS = [0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000]
const INCH_STEPS = [1 / 64, 1 / 32, 1 / 16, 1 / 8, 1 / 4, 1 / 2, 1, 2, 5, 10, 20, 50, 100, 200]

interface Tick {
  at: number
  label: string | null
  size: number
}

/** Ticks along a window of `length` pixels whose zero lies at `zero`, `scale` pixels to the mm. */
export function ticks(zero: number, scale: number, length: number, unit: Unit): Tick[] {
  const perUnit = unit === 'in' ? scale * MM_PER_INCH : scale
  const steps = unit === 'in' ? INCH_STEPS : MM_STEPS
  const fine = steps.find((s) => s * perUnit >= 7) ?? steps[steps.length - 1] ?? 1
  const numbered = steps.find((s) => s * perUnit >= 56 && isMultiple(s, fine)) ?? fine
  const middle = steps.find((s) => s > fine && s < numbered && isMultiple(s, fine) && isMultiple(numbered, s))
  const first = Math.floor(-zero / (fine * perUnit))
  const last = Math.ceil((length - zero) / (fine * perUnit))
  const found: Tick[] = []
  for (let n = first; n <= last && found.length < 2000; n++) {
    const value = n * fine
    const isNumbered = isMultiple(value, numbered)
    const size = isNumbered ? 11 : middle && isMultiple(value, middle) ? 7 : 4
    found.push({ at: zero + value * perUnit, label: isNumbered ? label(value) : null, size })
  }
  return found
}

function isMultiple(value: number, step: number): boolean {
  const times = value / step
  return Math.abs(times - Math.round(times)) < 1e-6
}

const label = (value: number) => String(Number(value.toFixed(4)))

const Svg = chakra('svg', {
  base: { position: 'absolute', bg: 'card', color: 'softInk', pointerEvents: 'none', userSelect: 'none' },
})

interface Props {
  unit: Unit
  /** The top left corner of the lettering, where both rulers begin. */
  left: number
  top: number
}

/** Rulers in the maker's unit, above and left of the work, zero at the lettering's corner. */
export const Rulers = memo(function Rulers({ unit, left, top }: Props) {
  const { scale, x, y, window } = useView()
  const across = ticks(x + left * scale, scale, window.width, unit)
  const down = ticks(y + top * scale, scale, window.height, unit)
  // A number that the corner or the window's edge would cut is left out.
  const roomAcross = (at: number) => at >= RULER && at < window.width - LABEL
  const roomDown = (at: number) => at >= RULER + LABEL && at < window.height
  return (
    <>
      <Svg top="0" left="0" width="100%" height="ruler" aria-hidden>
        {across.map((t) => (
          <g key={t.at} transform={`translate(${t.at} 0)`}>
            <path d={`M0 ${RULER}v${-t.size}`} stroke="currentColor" strokeWidth="1" />
            {t.label !== null && roomAcross(t.at) && (
              <text x="3" y="11" style={{ fontSize: 10 }} fill="currentColor">
                {t.label}
              </text>
            )}
          </g>
        ))}
        <path d={`M0 ${RULER - 0.5}h${window.width}`} stroke="var(--chakra-colors-rule)" />
      </Svg>
      <Svg top="0" left="0" width="ruler" height="100%" aria-hidden>
        {down.map((t) => (
          <g key={t.at} transform={`translate(0 ${t.at})`}>
            <path d={`M${RULER} 0h${-t.size}`} stroke="currentColor" strokeWidth="1" />
            {t.label !== null && roomDown(t.at) && (
              <text transform="translate(11 -3) rotate(-90)" style={{ fontSize: 10 }} fill="currentColor">
                {t.label}
              </text>
            )}
          </g>
        ))}
        <path d={`M${RULER - 0.5} 0v${window.height}`} stroke="var(--chakra-colors-rule)" />
      </Svg>
      <chakra.div
        position="absolute"
        top="0"
        left="0"
        width="ruler"
        height="ruler"
        bg="card"
        color="softInk"
        fontSize="10px"
        display="grid"
        placeItems="center"
        borderRightWidth="1px"
        borderBottomWidth="1px"
        borderColor="rule"
      >
        {unit}
      </chakra.div>
    </>
  )
})
