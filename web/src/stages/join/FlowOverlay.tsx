import { chakra } from '@chakra-ui/react'
import { type PointerEvent, useRef, useState } from 'react'
import { changeOf, type FlowShape, withLetters } from '../../shared/design/letters'
import { useSelection } from '../../shared/design/selection'
import { editOnce, partNow } from '../../shared/design/store'
import { backOn, fromLetter, type Letter, type Part } from '../../shared/evaluation/evaluation'
import { useEvaluation, useSeams } from '../../shared/evaluation/store'
import { type Spot, useProjection } from '../../shared/view/view'

const Grip = chakra('circle', { base: { cursor: 'grab' } })

/** Over the work, in pixels: where the flow of the chosen seam leaves and arrives, to be dragged. */
export function FlowOverlay() {
  const evaluation = useEvaluation()
  const left = useSelection(({ selection: s }) => (s.kind === 'seam' ? s.left : null))
  const partId = useSelection((s) => s.selection.part)
  const seam = useSeams().find((s) => s.left === left)
  const { px: pixels, mm } = useProjection()
  const ground = useRef<SVGGElement>(null)
  const [drag, setDrag] = useState<{ end: End; at: Spot } | null>(null)
  const part = evaluation?.parts.find((p) => p.id === partId)
  if (!seam || !part || seam.flow.length < 2) return null

  function spot(event: PointerEvent): Spot {
    const box = ground.current?.ownerSVGElement?.getBoundingClientRect()
    return mm({ x: event.clientX - (box?.left ?? 0), y: event.clientY - (box?.top ?? 0) })
  }

  function drop(end: End, at: Spot) {
    setDrag(null)
    if (!seam || !part) return
    const letter = part.letters.find((l) => l.id === (end === 'leaves' ? seam.left : seam.right))
    if (letter) shapeFlow(seam.left, { [end]: shareOn(part, letter, at) })
  }

  return (
    <g ref={ground}>
      {ENDS.map((end, n) => {
        const at = drag?.end === end ? drag.at : seam.flow[n]
        if (!at) return null
        const { x, y } = pixels(at)
        return (
          <Grip
            key={end}
            data-flow-end={end}
            cx={x}
            cy={y}
            r={7}
            fill="var(--chakra-colors-card)"
            stroke="var(--chakra-colors-knife)"
            strokeWidth="2.5"
            onPointerDown={(event) => {
              if (event.button !== 0) return
              event.stopPropagation()
              event.currentTarget.setPointerCapture(event.pointerId)
              setDrag({ end, at: spot(event) })
            }}
            onPointerMove={(event) => drag && setDrag({ end, at: spot(event) })}
            onPointerUp={(event) => drag && drop(end, spot(event))}
            onPointerCancel={() => setDrag(null)}
          >
            <title>{end === 'leaves' ? 'Where the stroke leaves' : 'Where the stroke arrives'}</title>
          </Grip>
        )
      })}
    </g>
  )
}

type End = 'leaves' | 'arrives'
const ENDS: readonly End[] = ['leaves', 'arrives']

/** Shapes the flow after a letter by hand; from then on it is the way chosen there. */
export function shapeFlow(left: number, change: Partial<FlowShape>) {
  const part = partNow()
  const now = changeOf(part, left).seam?.flow
  editOnce(
    withLetters(part, [left], ({ seam }) => ({
      seam: { ...seam, way: 'flow', flow: { leaves: null, arrives: null, full: 1, ...now, ...change } },
    })),
  )
}

/** A place on the work as one on a letter, in shares of the face's size. */
function shareOn(part: Part, letter: Letter, at: Spot) {
  const size = part.made?.size_mm ?? 1
  const { x, y } = fromLetter(letter, backOn(part.place, at))
  return { x: round(x / size), y: round(y / size) }
}

const round = (share: number) => Math.round(share * 1e5) / 1e5
