// What is dragged of an outline in hand: its points, and the handles of its curves.

import { chakra } from '@chakra-ui/react'
import type { PointerEvent, SVGProps } from 'react'
import type { Spot } from './view'

const Round = chakra('circle', { base: { cursor: 'move' } })
const Square = chakra('path', { base: { cursor: 'move' } })

interface PointProps {
  /** In pixels of the window. */
  at: Spot
  smooth: boolean
  half: number
  look: Pick<SVGProps<SVGElement>, 'fill' | 'stroke' | 'strokeWidth'> & { pointerEvents?: 'none' } & Record<
      `data-${string}`,
      unknown
    > & { onPointerDown?: (event: PointerEvent<SVGElement>) => void }
}

/** A point of an outline: round where the outline is smooth, square at a corner. */
export function PointMark({ at, smooth, half, look }: PointProps) {
  if (smooth) return <Round cx={at.x} cy={at.y} r={half} {...look} />
  const square = `M${at.x - half} ${at.y - half}h${2 * half}v${2 * half}h${-2 * half}z`
  return <Square d={square} {...look} />
}

interface HandleProps {
  from: Spot
  to: Spot
  side: 'before' | 'after'
  onPointerDown: (event: PointerEvent<SVGElement>) => void
}

/** A curve's handle: the line from its point, and the grip at its end. */
export function CurveHandle({ from, to, side, onPointerDown }: HandleProps) {
  return (
    <g>
      <path
        d={`M${from.x} ${from.y}L${to.x} ${to.y}`}
        stroke="var(--chakra-colors-knife)"
        strokeWidth="1.25"
      />
      <Round
        cx={to.x}
        cy={to.y}
        r="5"
        fill="var(--chakra-colors-knife)"
        stroke="var(--chakra-colors-card)"
        strokeWidth="1.5"
        data-handle={side}
        onPointerDown={onPointerDown}
      />
    </g>
  )
}
