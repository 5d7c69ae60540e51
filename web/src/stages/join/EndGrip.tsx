import { chakra } from '@chakra-ui/react'
import type { PointerEvent } from 'react'
import { type Spot, useProjection } from '../../shared/view/view'
import type { LetterNodes } from './shapes'

export type StrokeEnd = LetterNodes['ends'][number]

const Grip = chakra('path', { base: { cursor: 'grab' } })

interface Props {
  end: StrokeEnd
  number: number
  /** How far it is dragged by now, in millimetres of the work. */
  by: Spot
  chosen: boolean
  /** Whether its number is written beside it: where there are several. */
  named: boolean
  title?: string
  onPointerDown: (event: PointerEvent<SVGElement>) => void
}

/** The end of a stroke: a grip that points where the stroke goes on. */
export function EndGrip({ end, number, by, chosen, named, title, onPointerDown }: Props) {
  const { px: at, side } = useProjection()
  const tip = at({ x: end.x + by.x, y: end.y + by.y })
  const dx = side * end.dx
  const far = { x: tip.x + dx * 26, y: tip.y + end.dy * 26 }
  const across = { x: -end.dy * 6, y: dx * 6 }
  const root = { x: tip.x + dx * 15, y: tip.y + end.dy * 15 }
  const name = { x: tip.x + dx * 36, y: tip.y + end.dy * 36 }
  return (
    <>
      <Grip
        data-end={number}
        d={`M${far.x} ${far.y}L${root.x + across.x} ${root.y + across.y}L${root.x - across.x} ${root.y - across.y}Z`}
        fill={chosen ? 'var(--chakra-colors-knife)' : 'var(--chakra-colors-hold)'}
        stroke="var(--chakra-colors-card)"
        strokeWidth="1.5"
        strokeLinejoin="round"
        onPointerDown={onPointerDown}
      >
        <title>{title ?? `Stroke end ${number + 1}: drag to lengthen it`}</title>
      </Grip>
      {named && (
        <text
          x={name.x}
          y={name.y}
          fontSize="12"
          fontWeight="650"
          textAnchor="middle"
          dominantBaseline="central"
          fill={chosen ? 'var(--chakra-colors-knifeDeep)' : 'var(--chakra-colors-hold)'}
          stroke="var(--chakra-colors-paper)"
          strokeWidth="3"
          paintOrder="stroke"
          pointerEvents="none"
        >
          {number + 1}
        </text>
      )}
    </>
  )
}

/** Where a drag is held: along a stroke end's direction, or with Shift along the nearer axis. */
export function heldAlong(along: Spot | null, from: Spot, to: Spot, straight: boolean): Spot {
  const dx = to.x - from.x
  const dy = to.y - from.y
  if (along) {
    const by = dx * along.x + dy * along.y
    return { x: from.x + along.x * by, y: from.y + along.y * by }
  }
  if (!straight) return to
  return Math.abs(dx) > Math.abs(dy) ? { x: to.x, y: from.y } : { x: from.x, y: to.y }
}
