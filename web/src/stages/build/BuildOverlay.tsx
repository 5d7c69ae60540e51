import { chakra } from '@chakra-ui/react'
import { memo, type PointerEvent, useEffect, useState } from 'react'
import { findPart } from '../../shared/design/recipe'
import { useChosenParts } from '../../shared/design/selection'
import { useChosenPart, useDesign } from '../../shared/design/store'
import {
  type Box,
  type Evaluation,
  letterTransform,
  type Part,
  type Placement,
  transformOf,
} from '../../shared/evaluation/evaluation'
import { optimisticMovesOf } from '../../shared/evaluation/optimisticMoves'
import { useEvaluation } from '../../shared/evaluation/store'
import { type Spot, transformOfView, useProjection, useView } from '../../shared/view/view'
import { boxAround } from './arrange'
import { BandOverlay } from './BandOverlay'
import { ContourOverlay } from './ContourOverlay'
import { ParameterHandles } from './ParameterHandles'
import { PhotoOverlay } from './PhotoOverlay'
import { onLevel, parentOf } from './parts'
import { useBuild } from './store'
import { dragGrip, dragMarquee, dragTurn, type Grip, usePartDrag } from './usePartDrag'

const Hit = chakra('g', {
  base: {
    cursor: 'move',
    '& path': { fill: 'transparent', stroke: 'transparent', strokeWidth: '10px', pointerEvents: 'all' },
    '&:hover path': { stroke: 'ink', strokeWidth: '1.5px' },
    '&[data-chosen=true] path': { stroke: 'transparent', strokeWidth: '10px' },
    '&[data-locked=true]': { pointerEvents: 'none' },
  },
})

/** Parts to take hold of, the box around those that are chosen with its grips, and lines they snap to. */
export const BuildOverlay = memo(function BuildOverlay() {
  const evaluation = useEvaluation()
  const pointing = useBuild((s) => s.pointing)
  if (!evaluation) return null
  return (
    <>
      <Ground />
      <Preview />
      {pointing ? (
        <ContourOverlay />
      ) : (
        <>
          <Hits evaluation={evaluation} />
          <BandOverlay evaluation={evaluation} />
          <ChosenBox evaluation={evaluation} />
          <ParameterHandles />
        </>
      )}
      <Guides />
      <PhotoOverlay />
    </>
  )
})

/** The ground: a drag on it draws a rectangle that chooses; fingers move the view. */
function Ground() {
  const [marquee, setMarquee] = useState<{ from: Spot; to: Spot } | null>(null)
  const { px } = useProjection()
  const show = (from: Spot, to: Spot | null) => setMarquee(to && { from, to })
  const corners = marquee && [px(marquee.from), px(marquee.to)]
  return (
    <>
      <rect
        width="100%"
        height="100%"
        fill="transparent"
        data-ground
        style={{ cursor: 'default' }}
        onPointerDown={(e: PointerEvent<SVGElement>) => {
          if (e.button !== 0 || e.pointerType === 'touch') return
          e.currentTarget.closest<HTMLElement>('[role=application]')?.focus({ preventScroll: true })
          dragMarquee(e, show)
        }}
      />
      {corners?.[0] && corners[1] && (
        <rect
          x={Math.min(corners[0].x, corners[1].x)}
          y={Math.min(corners[0].y, corners[1].y)}
          width={Math.abs(corners[0].x - corners[1].x)}
          height={Math.abs(corners[0].y - corners[1].y)}
          fill="var(--chakra-colors-ink)"
          fillOpacity="0.06"
          stroke="var(--chakra-colors-ink)"
          strokeDasharray="3 3"
          pointerEvents="none"
        />
      )}
    </>
  )
}

/** The parts of the level worked on, each by its own outline. */
function Hits({ evaluation }: { evaluation: Evaluation }) {
  const recipe = useDesign((s) => s.recipe)
  const level = useBuild((s) => s.level)
  const chosen = useChosenParts()
  const view = useView()
  const ahead = optimisticMovesOf(evaluation, recipe)
  return (
    <g transform={transformOfView(view)}>
      {onLevel(recipe, level).map((part) => {
        const seen = evaluation.parts.find((p) => p.id === part.id)
        if (!seen?.made || !seen.shown) return null
        return (
          <PartHit
            key={part.id}
            part={seen}
            place={ahead?.get(part.id)?.place ?? seen.place}
            chosen={chosen.includes(part.id)}
            locked={part.locked}
          />
        )
      })}
    </g>
  )
}

interface PartHitProps {
  part: Part
  place: Placement
  chosen: boolean
  locked: boolean
}

const PartHit = memo(function PartHit({ part, place, chosen, locked }: PartHitProps) {
  const handlers = usePartDrag()
  return (
    <Hit data-hit={part.id} data-chosen={chosen} data-locked={locked} {...handlers}>
      <Edges part={{ ...part, place }} />
    </Hit>
  )
})

function Edges({ part }: { part: Part }) {
  return (
    <>
      {part.letters.map((letter) => (
        <path
          key={letter.id}
          d={letter.d}
          transform={letterTransform(part, letter)}
          vectorEffect="non-scaling-stroke"
        />
      ))}
      <g transform={transformOf(part.place)}>
        {[...(part.made?.bodies ?? []), ...part.marks].map(({ d }) => (
          <path key={d} d={d} vectorEffect="non-scaling-stroke" />
        ))}
      </g>
    </>
  )
}

const GRIPS: readonly Grip[] = ([-1, 0, 1] as const).flatMap((down) =>
  ([-1, 0, 1] as const).flatMap((across) => (across === 0 && down === 0 ? [] : [{ across, down }])),
)

const GRIP_NAMES: Record<string, string> = {
  '-1 -1': 'top left',
  '0 -1': 'top',
  '1 -1': 'top right',
  '-1 0': 'left',
  '1 0': 'right',
  '-1 1': 'bottom left',
  '0 1': 'bottom',
  '1 1': 'bottom right',
}

/** In the Letter stage: the box around the lettering that is typed, to make it larger and to stretch it by hand. */
export const LetteringBox = memo(function LetteringBox() {
  const evaluation = useEvaluation()
  const id = useChosenPart()?.id ?? ''
  const inside = useDesign((s) => parentOf(s.recipe, id) !== undefined)
  const level = useBuild((s) => s.level)
  // What was worked inside in Build is left: grips act on the parts of the work.
  useEffect(() => {
    if (level !== null) useBuild.getState().open(null)
  }, [level])
  return evaluation && !inside && level === null ? <ChosenBox evaluation={evaluation} /> : null
})

/** The box around what is chosen: corners and sides make it larger, the round grip turns it. */
function ChosenBox({ evaluation }: { evaluation: Evaluation }) {
  const recipe = useDesign((s) => s.recipe)
  const chosen = useChosenParts()
  const { px, side } = useProjection()
  const level = useBuild((s) => s.level)
  const there = new Set(onLevel(recipe, level).map((p) => p.id))
  const parts = evaluation.parts.filter((p) => chosen.includes(p.id) && p.shown && there.has(p.id))
  const box = boxAround(parts.map((p) => p.box))
  if (!box) return null
  const locked = chosen.some((id) => findPart(recipe, id)?.locked)
  const corners = [px(box), px({ x: box.x + box.width, y: box.y + box.height })]
  const [left, right] = [Math.min(...corners.map((c) => c.x)), Math.max(...corners.map((c) => c.x))]
  const [top, bottom] = [Math.min(...corners.map((c) => c.y)), Math.max(...corners.map((c) => c.y))]
  const middle = { x: (left + right) / 2, y: (top + bottom) / 2 }
  const at = (grip: Grip) => ({
    x: grip.across === 0 ? middle.x : grip.across * side < 0 ? left : right,
    y: grip.down === 0 ? middle.y : grip.down < 0 ? top : bottom,
  })
  return (
    <g data-chosen-box>
      {parts.length > 1 && parts.map((p) => p.box && <Dashed key={p.id} box={p.box} />)}
      <rect
        x={left}
        y={top}
        width={right - left}
        height={bottom - top}
        fill="none"
        stroke="var(--chakra-colors-ink)"
        strokeWidth="1"
        strokeDasharray="4 3"
        pointerEvents="none"
      />
      {!locked && (
        <>
          <path d={`M${middle.x} ${bottom}v22`} stroke="var(--chakra-colors-ink)" strokeWidth="1" />
          <g style={{ cursor: 'grab' }} data-grip="turn" onPointerDown={(e) => e.button === 0 && dragTurn(e)}>
            <circle cx={middle.x} cy={bottom + 28} r={REACH_PX} fill="transparent" />
            <circle
              cx={middle.x}
              cy={bottom + 28}
              r="6.5"
              fill="var(--chakra-colors-card)"
              stroke="var(--chakra-colors-ink)"
              strokeWidth="2"
            />
            <title>Turn</title>
          </g>
          {GRIPS.map((grip) => (
            <SideGrip key={`${grip.across} ${grip.down}`} grip={grip} at={at(grip)} side={side} />
          ))}
        </>
      )}
    </g>
  )
}

/** How far around a grip it can be hit: a finger needs more room than a pointer. */
const REACH_PX = matchMedia('(pointer: coarse)').matches ? 16 : 9

/** A grip at a corner or a side, with room around it to be hit. */
function SideGrip({ grip, at: { x, y }, side }: { grip: Grip; at: Spot; side: 1 | -1 }) {
  const diagonal = grip.across * grip.down * side
  return (
    <g
      style={{ cursor: CURSORS[diagonal + (grip.across === 0 ? 2 : grip.down === 0 ? 4 : 0)] }}
      data-grip={GRIP_NAMES[`${grip.across} ${grip.down}`]}
      onPointerDown={(e) => e.button === 0 && dragGrip(e, grip)}
    >
      <rect x={x - REACH_PX} y={y - REACH_PX} width={2 * REACH_PX} height={2 * REACH_PX} fill="transparent" />
      <rect
        x={x - 5.5}
        y={y - 5.5}
        width="11"
        height="11"
        fill="var(--chakra-colors-card)"
        stroke="var(--chakra-colors-ink)"
        strokeWidth="2"
      />
    </g>
  )
}

const CURSORS: Record<number, string> = {
  1: 'nwse-resize',
  [-1]: 'nesw-resize',
  2: 'ns-resize',
  4: 'ew-resize',
}

function Dashed({ box }: { box: Box }) {
  const { px, scale } = useProjection()
  const at = [px(box), px({ x: box.x + box.width, y: box.y })]
  return (
    <rect
      x={Math.min(...at.map((a) => a.x))}
      y={px(box).y}
      width={box.width * scale}
      height={box.height * scale}
      fill="none"
      stroke="var(--chakra-colors-edge)"
      strokeWidth="1"
      pointerEvents="none"
    />
  )
}

/** Lines that what is dragged lies on. */
function Guides() {
  const { x, y } = useBuild((s) => s.guides)
  const { px } = useProjection()
  const at = px({ x: x ?? 0, y: y ?? 0 })
  return (
    <g stroke="var(--chakra-colors-knife)" strokeWidth="1" pointerEvents="none">
      {x !== null && <path d={`M${at.x} 0V4000`} data-guide="across" />}
      {y !== null && <path d={`M0 ${at.y}H4000`} data-guide="down" />}
    </g>
  )
}

/** What an operation would make, over the faded work. */
function Preview() {
  const preview = useBuild((s) => s.preview)
  const view = useView()
  if (!preview || preview.films.length === 0) return null
  return (
    <g pointerEvents="none" data-preview={preview.how}>
      <rect width="100%" height="100%" fill="var(--chakra-colors-paper)" opacity="0.92" />
      <g transform={transformOfView(view)}>
        {preview.films.map((film) => (
          <path
            key={film.colour}
            d={film.d}
            fill={film.colour}
            stroke="var(--chakra-colors-knife)"
            strokeWidth="1.5"
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </g>
    </g>
  )
}
