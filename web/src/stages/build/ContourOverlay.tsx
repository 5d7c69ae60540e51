import { chakra } from '@chakra-ui/react'
import type { PointerEvent } from 'react'
import { findPart } from '../../shared/design/recipe'
import { editOnce, useDesign } from '../../shared/design/store'
import { transformOfView, useView } from '../../shared/view/view'
import { type Contour, useContours } from './ContourNotes'
import { parentOf } from './parts'
import { useBuild } from './store'

const Line = chakra('path', {
  base: {
    fill: 'none',
    stroke: 'edge',
    strokeWidth: '1.5px',
    '&[data-off=true]': { strokeDasharray: '3 3', opacity: 0.6 },
    '&[data-chosen=true]': { stroke: 'knife', strokeWidth: '3px' },
  },
})
const Target = chakra('path', {
  base: {
    fill: 'none',
    stroke: 'transparent',
    strokeWidth: '14px',
    pointerEvents: 'stroke',
    cursor: 'pointer',
    _hover: { stroke: 'knife', strokeOpacity: 0.25 },
  },
})

/** Contours to point at: edges that parts are welded to, or those of a drawing. */
export function ContourOverlay() {
  const pointing = useBuild((s) => s.pointing)
  const picked = useBuild((s) => s.contours)
  const recipe = useDesign((s) => s.recipe)
  const view = useView()
  const what = pointing?.for ?? 'edges'
  const contours = useContours(pointing?.part ?? null, what)?.contours ?? []
  const whole = pointing ? parentOf(recipe, pointing.part) : undefined
  const band = useBuild((s) => s.band)
  const edgesOf = whole?.kind === 'frame' ? whole.bands[band]?.edges : whole?.edges
  const chosen = new Set(what === 'edges' ? edgesOf : picked)

  function click(event: PointerEvent<SVGElement>, { number }: Contour) {
    if (event.button !== 0) return
    event.stopPropagation()
    const has = chosen.has(number)
    if (what === 'contours') {
      const rest = picked.filter((n) => n !== number)
      const next = event.shiftKey
        ? has
          ? rest
          : [...rest, number]
        : has && picked.length === 1
          ? []
          : [number]
      useBuild.getState().chooseContours(next)
      return
    }
    const now = findPart(recipe, whole?.id ?? '')
    if (now?.kind !== 'combination' && now?.kind !== 'frame') return
    const before = edgesOf ?? []
    const edges = has ? before.filter((n) => n !== number) : [...before, number].sort((a, b) => a - b)
    if (now.kind === 'combination') editOnce({ edges }, now.id)
    else editOnce({ bands: now.bands.map((b, n) => (n === band ? { ...b, edges } : b)) }, now.id)
  }

  return (
    <g transform={transformOfView(view)}>
      {contours.map((contour) => (
        <g key={contour.number}>
          <Line
            d={contour.d}
            vectorEffect="non-scaling-stroke"
            data-off={contour.off}
            data-chosen={chosen.has(contour.number)}
          />
          <Target
            d={contour.d}
            vectorEffect="non-scaling-stroke"
            data-contour={contour.number}
            onPointerDown={(e) => click(e, contour)}
          />
        </g>
      ))}
    </g>
  )
}
