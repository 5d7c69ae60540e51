// Dragging letters on the work. The letters are drawn where they are at once; the weld follows as answers come.

import { type PointerEvent, useState } from 'react'
import { changeOf } from '../../shared/design/letters'
import type { Lettering } from '../../shared/design/recipe'
import { lettersOf, selectionNow, useSelection } from '../../shared/design/selection'
import { holdStep, partNow, useDesign } from '../../shared/design/store'
import type { Part } from '../../shared/evaluation/evaluation'
import { evaluationNow } from '../../shared/evaluation/store'
import { useView } from '../../shared/view/view'
import { movedFrom } from './moves'

/** Pixels a pointer may wander before it is a drag. */
const SLACK = 3
/** How near to the baseline a letter snaps back to it, in pixels. */
const SNAP = 5

interface Start {
  x: number
  y: number
  part: Lettering
  view: Part
  moved: boolean
}

/** What a letter does with a pointer: the same handlers for as long as the letters are there. ``onMoved`` is told
 * when one was dragged. */
export function useLetterDrag(onMoved: () => void) {
  const [handlers] = useState(() => dragging(onMoved))
  return handlers
}

function dragging(onMoved: () => void) {
  let start: Start | null = null
  let frame = 0
  let pending: (() => void) | null = null

  function down(event: PointerEvent<SVGElement>, partId: string, id: number) {
    if (event.button !== 0) return
    event.stopPropagation()
    const { chooseLetter } = useSelection.getState()
    const chosen = selectionNow().part === partId ? lettersOf(selectionNow()) : []
    if (event.shiftKey || !chosen.includes(id)) chooseLetter(partId, id, event.shiftKey)
    const view = evaluationNow()?.parts.find((p) => p.id === partId)
    if (!view) return
    event.currentTarget.setPointerCapture(event.pointerId)
    start = { x: event.clientX, y: event.clientY, part: partNow(), view, moved: false }
  }

  function move(event: PointerEvent<SVGElement>) {
    const from = start
    if (!from) return
    const dx = event.clientX - from.x
    const dy = event.clientY - from.y
    if (!from.moved && Math.hypot(dx, dy) < SLACK) return
    if (!from.moved) {
      from.moved = true
      useView.setState({ fitted: false })
      holdStep(true)
    }
    const straight = event.shiftKey
    cancelAnimationFrame(frame)
    pending = () => place(from, dx, dy, straight)
    frame = requestAnimationFrame(flush)
  }

  /** Takes the last place the pointer was at, if it is not taken yet. */
  function flush() {
    pending?.()
    pending = null
  }

  function up() {
    if (start?.moved) {
      cancelAnimationFrame(frame)
      flush()
      holdStep(false)
      onMoved()
    }
    start = null
  }

  return { down, move, up }
}

/** Puts the dragged letters so many pixels from where they were. */
function place(from: Start, dxPx: number, dyPx: number, straight: boolean) {
  const { part, view } = from
  const { scale, side } = useView.getState()
  const chosen = lettersOf(selectionNow())
  if (selectionNow().part !== part.id || chosen.length === 0) return
  const upright = straight && Math.abs(dyPx) > Math.abs(dxPx)
  const dx = (side * (straight && upright ? 0 : dxPx)) / scale
  let dy = (straight && !upright ? 0 : dyPx) / scale
  const lead = changeOf(part, chosen[0] ?? 0)
  if (Math.abs((lead.dy * view.size_mm + dy) * scale) < SNAP) dy = -lead.dy * view.size_mm
  useDesign.getState().edit(movedFrom(part, view, chosen, dx, dy), part.id)
}
