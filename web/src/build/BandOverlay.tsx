import type { PointerEvent } from 'react'
import type { Schemas } from '../api/client'
import { type Frame, findPart } from '../design/recipe'
import { useChosenParts } from '../design/selection'
import { useDesign } from '../design/store'
import { showLength } from '../design/units'
import { backOn, type Evaluation, onWork, type Part, transformOf } from '../evaluation/evaluation'
import { useUnit } from '../evaluation/store'
import { type Spot, transformOfView, useProjection, useView } from '../workbench/view'
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

/** How much air is beside a name, as dimension lines at the height of its feet. */
function Air({ band, at }: { band: Band; at: (x: number, y: number) => Spot }) {
  const unit = useUnit()
  const name = band.name_box
  if (!name || band.manner === 'across' || band.manner === 'between') return null
  // Below the grips in the middle of the box.
  const y = name.y + name.height * 0.8
  const gaps: [number, number][] = [
    [band.box.x, name.x],
    [name.x + name.width, band.box.x + band.box.width],
  ]
  return gaps.map(([from, to]) => {
    if (to - from < 0.2) return null
    const [a, b] = [at(from, y), at(to, y)]
    const middle = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 }
    return (
      <g key={from} pointerEvents="none" data-air>
        <path d={`M${a.x} ${a.y - 6}V${a.y + 6}M${a.x} ${a.y}H${b.x}M${b.x} ${b.y - 6}V${b.y + 6}`} />
        <text
          x={middle.x}
          y={middle.y - 8}
          textAnchor="middle"
          fill="var(--chakra-colors-hold)"
          stroke="var(--chakra-colors-paper)"
          strokeWidth="4"
          paintOrder="stroke"
          style={{ fontSize: 12, fontWeight: 650 }}
        >
          {showLength(to - from, unit)}
        </text>
      </g>
    )
  })
}

/** How deep a name lies in its edges: a mark across the edge, with its length. */
function Depth({ band, at }: { band: Band; at: (x: number, y: number) => Spot }) {
  const unit = useUnit()
  const { x, y, width, height } = band.box
  const middle = { x: x + width / 2, y: y + height }
  const deep = band.depth_mm
  const [a, b] = [at(middle.x, middle.y), at(middle.x, middle.y + deep)]
  if (band.manner === 'across' || band.manner === 'around')
    return (
      <text
        x={at(x + width / 2, y + height).x}
        y={band.manner === 'around' ? at(0, y + height / 2).y : at(0, y + height).y - 10}
        textAnchor="middle"
        fill="var(--chakra-colors-hold)"
        stroke="var(--chakra-colors-paper)"
        strokeWidth="4"
        paintOrder="stroke"
        style={{ fontSize: 12, fontWeight: 650 }}
        pointerEvents="none"
      >
        {`${showLength(deep, unit)} deep in its edges`}
      </text>
    )
  return (
    <g pointerEvents="none" data-depth>
      <path d={`M${a.x - 6} ${a.y}H${a.x + 6}M${b.x - 6} ${b.y}H${b.x + 6}M${a.x} ${a.y}V${b.y}`} />
      <text
        x={b.x + 12}
        y={b.y + 5}
        fill="var(--chakra-colors-hold)"
        stroke="var(--chakra-colors-paper)"
        strokeWidth="4"
        paintOrder="stroke"
        style={{ fontSize: 12, fontWeight: 650 }}
      >
        {`${showLength(deep, unit)} deep`}
      </text>
    </g>
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
