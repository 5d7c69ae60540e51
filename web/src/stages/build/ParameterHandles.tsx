import type { PointerEvent } from 'react'
import { findPart, type LinePart, type ShapePart } from '../../shared/design/recipe'
import { useChosenParts } from '../../shared/design/selection'
import { editOnce, useDesign } from '../../shared/design/store'
import { backOn, onWork, type Part } from '../../shared/evaluation/evaluation'
import { useEvaluation } from '../../shared/evaluation/store'
import { useLibraryShapes } from '../../shared/fields/LibraryShapePicture'
import { useProjection } from '../../shared/view/view'
import { viewOf } from './levels'
import { useBuild } from './store'
import { follow } from './usePartDrag'

/** Handles on the one part that is chosen: of a shape's parameters, of a line's points. */
export function ParameterHandles() {
  const chosen = useChosenParts()
  const evaluation = useEvaluation()
  const part = useDesign((s) => findPart(s.recipe, chosen[0] ?? ''))
  const view = viewOf(evaluation, part?.id ?? '')
  if (chosen.length !== 1 || !part || !view?.made || part.locked) return null
  if (part.kind === 'shape') return <ShapeHandles part={part} view={view} />
  if (part.kind === 'line') return <LineHandles part={part} view={view} />
  return null
}

function ShapeHandles({ part, view }: { part: ShapePart; view: Part }) {
  const { px } = useProjection()
  const form = useLibraryShapes()?.find((f) => f.name === part.form)
  return view.made?.handles.map((handle) => {
    const parameter = form?.parameters.find((p) => p.key === handle.key)
    if (!parameter) return null
    const at = px(onWork(view.place, handle))
    return (
      <path
        key={handle.key}
        d={`M${at.x} ${at.y - 7}l7 7l-7 7l-7 -7Z`}
        fill="var(--chakra-colors-knife)"
        stroke="var(--chakra-colors-card)"
        strokeWidth="2"
        style={{ cursor: 'move' }}
        data-parameter={handle.key}
        onPointerDown={(e: PointerEvent<Element>) => {
          if (e.button !== 0) return
          const start = part.values?.[handle.key] ?? parameter.default
          const along = handle.dx ** 2 + handle.dy ** 2
          follow(e, (now, _, from) => {
            const [to, was] = [backOn(view.place, now), backOn(view.place, from)]
            const by = ((to.x - was.x) * handle.dx + (to.y - was.y) * handle.dy) / (along || 1)
            const value = Math.min(parameter.high, Math.max(parameter.low, start + by))
            const rounded = parameter.kind === 'share' ? Math.round(value * 1e3) / 1e3 : Math.round(value)
            const { edit } = useDesign.getState()
            edit({ values: { ...part.values, [handle.key]: rounded } }, part.id)
          })
        }}
      >
        <title>{parameter.label}</title>
      </path>
    )
  })
}

function LineHandles({ part, view }: { part: LinePart; view: Part }) {
  const { px } = useProjection()
  const points = part.points ?? []
  const shown = part.course === 'free' ? points : [points[0], points.at(-1)].filter((p) => p !== undefined)
  const node = useBuild((s) => s.node)

  function drag(e: PointerEvent<Element>, index: number) {
    if (e.button !== 0) return
    useBuild.getState().hold(index)
    follow(e, (now) => {
      const { x, y } = backOn(view.place, now)
      const at = { x: Math.round(x * 100) / 100, y: Math.round(y * 100) / 100 }
      const next = points.map((p, n) => (n === index ? { ...p, ...at } : p))
      useDesign.getState().edit({ points: next }, part.id)
    })
  }

  function toggle(index: number) {
    if (part.course !== 'free') return
    const next = points.map((p, n) => (n === index ? { ...p, corner: !p.corner } : p))
    editOnce({ points: next }, part.id)
  }

  return (
    <>
      {part.course === 'free' && <Between part={part} view={view} />}
      {shown.map((point) => {
        const index = points.indexOf(point)
        const at = px(onWork(view.place, point))
        const held = node === index && part.course === 'free'
        const look = {
          fill: held ? 'var(--chakra-colors-knife)' : 'var(--chakra-colors-card)',
          stroke: 'var(--chakra-colors-knife)',
          strokeWidth: 2.5,
          style: { cursor: 'move' },
          'data-point': index,
          onPointerDown: (e: PointerEvent<Element>) => drag(e, index),
          onDoubleClick: () => toggle(index),
        }
        return point.corner ? (
          <rect key={index} x={at.x - 6} y={at.y - 6} width="12" height="12" {...look} />
        ) : (
          <circle key={index} cx={at.x} cy={at.y} r="6.5" {...look} />
        )
      })}
    </>
  )
}

/** Places between a line's points, where one more can be pulled out. */
function Between({ part, view }: { part: LinePart; view: Part }) {
  const { px } = useProjection()
  const points = part.points ?? []
  return points.slice(1).map((point, n) => {
    const before = points[n]
    if (!before) return null
    const middle = { x: (point.x + before.x) / 2, y: (point.y + before.y) / 2 }
    const at = px(onWork(view.place, middle))
    return (
      <circle
        key={`${before.x} ${before.y} ${point.x} ${point.y}`}
        cx={at.x}
        cy={at.y}
        r="4.5"
        fill="var(--chakra-colors-card)"
        stroke="var(--chakra-colors-soft-ink)"
        strokeWidth="1.5"
        style={{ cursor: 'copy' }}
        data-between={n}
        onPointerDown={(e: PointerEvent<Element>) => {
          if (e.button !== 0) return
          const place = (x: number, y: number) =>
            points.toSpliced(n + 1, 0, {
              x: Math.round(x * 100) / 100,
              y: Math.round(y * 100) / 100,
              corner: false,
            })
          follow(e, (now) => {
            const { x, y } = backOn(view.place, now)
            useDesign.getState().edit({ points: place(x, y) }, part.id)
          })
          useBuild.getState().hold(n + 1)
        }}
      >
        <title>One more point</title>
      </circle>
    )
  })
}
