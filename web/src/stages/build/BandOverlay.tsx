import type { PointerEvent } from 'react'
import type { Schemas } from '../../shared/api/client'
import { type Frame, findPart } from '../../shared/design/recipe'
import { useChosenParts } from '../../shared/design/selection'
import { useDesign } from '../../shared/design/store'
import { showLength } from '../../shared/design/units'
import { backOn, type Evaluation, onWork, type Part, transformOf } from '../../shared/evaluation/evaluation'
import { useUnit } from '../../shared/evaluation/store'
import { type Spot, transformOfView, useProjection, useView } from '../../shared/view/view'
import { parentOf } from './parts'
import { follow } from './usePartDrag'

type Band = Schemas['BandOut']

/** The places that a chosen frame offers for names, with the air beside them as dimension lines. */
export function BandOverlay({ evaluation }: { evaluation: Evaluation }) {
  const recipe = useDesign((s) => s.recipe)
  const chosen = useChosenParts()
  const id = chosen.length === 1 ? (chosen[0] ?? '') : ''
  const frame = [findPart(recipe, id), parentOf(recipe, id)].find((p): p is Frame => p?.kind === 'frame')
  const view = evaluation.parts.find((p) => p.id === frame?.id)
  if (!frame || !view?.made) return null
  return view.made.bands.map((band, n) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: a band is told by its number
    <BandMark key={n} band={band} view={view} frame={frame} number={n} />
  ))
}

interface Props {
  band: Band
  view: Part
  frame: Frame
  number: number
}

function BandMark({ band, view, frame, number }: Props) {
  const { px } = useProjection()
  const seen = useView()
  const at = (x: number, y: number) => px(onWork(view.place, { x, y }))
  const { x, y, width, height } = band.box
  const corners = [at(x, y), at(x + width, y), at(x + width, y + height), at(x, y + height)]
  const round = band.ring.map((radius) => {
    const [middle, rim] = [at(0, 0), at(radius, 0)]
    return { middle, radius: Math.hypot(rim.x - middle.x, rim.y - middle.y) }
  })
  const own = frame.form === 'own'
  return (
    <g data-band={number} fill="none" stroke="var(--chakra-colors-hold)" strokeWidth="1.25">
      {round.length > 0 ? (
        round.map(({ middle, radius }) => (
          <circle
            key={radius}
            cx={middle.x}
            cy={middle.y}
            r={radius}
            strokeDasharray="6 4"
            pointerEvents="none"
          />
        ))
      ) : (
        <path
          d={own ? `M${corners.map((c) => `${c.x} ${c.y}`).join('L')}Z` : band.d}
          transform={own ? undefined : `${transformOfView(seen)} ${transformOf(view.place)}`}
          vectorEffect="non-scaling-stroke"
          strokeDasharray="6 4"
          pointerEvents={own ? 'stroke' : 'none'}
          style={own ? { cursor: 'move', strokeWidth: 2 } : undefined}
          onPointerDown={own ? (e) => dragBand(e, frame, view, number) : undefined}
        />
      )}
      {own && corners[2] && (
        <rect
          x={corners[2].x - 6}
          y={corners[2].y - 6}
          width="12"
          height="12"
          fill="var(--chakra-colors-card)"
          strokeWidth="2"
          style={{ cursor: 'nwse-resize' }}
          data-grip={`place ${number + 1}`}
          onPointerDown={(e) => sizeBand(e, frame, view, number)}
        />
      )}
      {band.name_box && round.length === 0 && <Air band={band} at={at} />}
      {band.depth_mm > 0 && band.manner !== 'within' && <Depth band={band} at={at} />}
    </g>
  )
}

/** How much air is beside a name, as dimension lines, told outside of the band; once, where it is the same. */
function Air({ band, at }: { band: Band; at: (x: number, y: number) => Spot }) {
  const unit = useUnit()
  const name = band.name_box
  if (!name || band.manner === 'across' || band.manner === 'between') return null
  // Below the grips in the middle of the box.
  const y = name.y + name.height * 0.7
  const gaps: [number, number][] = [
    [band.box.x, name.x],
    [name.x + name.width, band.box.x + band.box.width],
  ]
  const [left, right] = gaps.map(([from, to]) => showLength(to - from, unit))
  return gaps.map(([from, to], n) => {
    if (to - from < 0.2) return null
    const [a, b] = [at(from, y), at(to, y)]
    return (
      <g key={from} pointerEvents="none" data-air>
        <path d={`M${a.x} ${a.y - 6}V${a.y + 6}M${a.x} ${a.y}H${b.x}M${b.x} ${b.y - 6}V${b.y + 6}`} />
        {n === 0 && (
          <Told x={a.x - 10} y={a.y + 4} anchor="end">
            {left}
          </Told>
        )}
        {n === 1 && right !== left && (
          <Told x={b.x + 10} y={b.y + 4} anchor="start">
            {right}
          </Told>
        )}
      </g>
    )
  })
}

/** How deep a name lies in its edges: a mark across the edge, with its length outside of the band. */
function Depth({ band, at }: { band: Band; at: (x: number, y: number) => Spot }) {
  const unit = useUnit()
  const { x, y, width, height } = band.box
  const deep = showLength(band.depth_mm, unit)
  if (band.manner === 'across' || band.manner === 'around') {
    const middle = at(x + width / 2, band.manner === 'around' ? y + height / 2 : y + height)
    return (
      <g pointerEvents="none">
        <Told x={middle.x} y={band.manner === 'around' ? middle.y : middle.y - 10} anchor="middle">
          {`runs ${deep} into its edges`}
        </Told>
      </g>
    )
  }
  const [a, b] = [at(x, y + height), at(x, y + height + band.depth_mm)]
  return (
    <g pointerEvents="none" data-depth>
      <path d={`M${a.x - 8} ${a.y}H${a.x}M${b.x - 8} ${b.y}H${b.x}M${a.x - 4} ${a.y}V${b.y}`} />
      <Told x={b.x - 12} y={b.y + 12} anchor="end">
        {`${deep} deep`}
      </Told>
    </g>
  )
}

/** A figure on the work, legible over whatever lies there. */
function Told({
  x,
  y,
  anchor,
  children,
}: {
  x: number
  y: number
  anchor: 'start' | 'middle' | 'end'
  children: string | undefined
}) {
  return (
    <text
      x={x}
      y={y}
      textAnchor={anchor}
      fill="var(--chakra-colors-hold)"
      stroke="var(--chakra-colors-paper)"
      strokeWidth="4"
      paintOrder="stroke"
      style={{ fontSize: 12, fontWeight: 650 }}
    >
      {children}
    </text>
  )
}

const rounded = (mm: number) => Math.round(mm * 100) / 100

function changeBand(frame: Frame, number: number, more: Partial<Frame['bands'][number]>) {
  const bands = frame.bands.map((band, n) => (n === number ? { ...band, ...more } : band))
  useDesign.getState().edit({ bands }, frame.id)
}

function dragBand(event: PointerEvent<Element>, frame: Frame, view: Part, number: number) {
  const band = frame.bands[number]
  if (event.button !== 0 || !band) return
  follow(event, (now, _, from) => {
    const [a, b] = [backOn(view.place, from), backOn(view.place, now)]
    changeBand(frame, number, { x: rounded(band.x + b.x - a.x), y: rounded(band.y + b.y - a.y) })
  })
}

/** A band made larger about its middle. */
function sizeBand(event: PointerEvent<Element>, frame: Frame, view: Part, number: number) {
  const band = frame.bands[number]
  if (event.button !== 0 || !band) return
  follow(event, (now) => {
    const at = backOn(view.place, now)
    changeBand(frame, number, {
      width_mm: rounded(Math.max(1, 2 * Math.abs(at.x - band.x))),
      height_mm: rounded(Math.max(1, 2 * Math.abs(at.y - band.y))),
    })
  })
}
