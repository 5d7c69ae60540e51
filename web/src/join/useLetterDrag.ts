// Dragging letters on the work. The letter's own outline moves at once; the weld follows as answers come,
// and an answer to an older place is dropped when a newer one is asked for.

import { type PointerEvent, useRef } from 'react'
import { create } from 'zustand'
import { changeOf } from '../design/letters'
import type { Evaluation, Lettering } from '../design/recipe'
import { endStep, holdStep, partNow, useDesign } from '../design/store'
import { useView } from '../workbench/view'
import { useJoin } from './joinState'
import { carriedAlong, movedFrom } from './moves'

interface Drag {
  /** The letters that are dragged and those they take along sideways, as drawn when the drag began, and
   * how far they are by now. */
  dragged: string[]
  along: string[]
  dx: number
  dy: number
}

export const useDrag = create<{ drag: Drag | null }>(() => ({ drag: null }))

/** Pixels a pointer may wander before it is a drag. */
const SLACK = 3
/** How near to the baseline a letter snaps back to it, in pixels. */
const SNAP = 5

interface Start {
  x: number
  y: number
  part: Lettering
  evaluation: Evaluation
  moved: boolean
}

export function useLetterDrag(evaluation: Evaluation) {
  const start = useRef<Start | null>(null)
  const frame = useRef(0)
  const pending = useRef<(() => void) | null>(null)

  function down(event: PointerEvent<SVGElement>, partId: string, id: number) {
    if (event.button !== 0) return
    event.stopPropagation()
    useDesign.getState().choosePart(partId)
    const chosen = useJoin.getState().letters
    if (event.shiftKey || !chosen.includes(id)) useJoin.getState().chooseLetter(id, event.shiftKey)
    event.currentTarget.setPointerCapture(event.pointerId)
    start.current = { x: event.clientX, y: event.clientY, part: partNow(), evaluation, moved: false }
  }

  function move(event: PointerEvent<SVGElement>) {
    const from = start.current
    if (!from) return
    const dx = event.clientX - from.x
    const dy = event.clientY - from.y
    if (!from.moved && Math.hypot(dx, dy) < SLACK) return
    if (!from.moved) {
      from.moved = true
      useView.setState({ fitted: false })
      endStep()
      holdStep(true)
    }
    const straight = event.shiftKey
    cancelAnimationFrame(frame.current)
    pending.current = () => place(from, dx, dy, straight)
    frame.current = requestAnimationFrame(flush)
  }

  /** Takes the last place the pointer was at, if it is not taken yet. */
  function flush() {
    pending.current?.()
    pending.current = null
  }

  function up() {
    if (start.current?.moved) {
      cancelAnimationFrame(frame.current)
      flush()
      holdStep(false)
      useDrag.setState({ drag: null })
    }
    start.current = null
  }

  return { down, move, up }
}

/** Puts the dragged letters so many pixels from where they were. */
function place(from: Start, dxPx: number, dyPx: number, straight: boolean) {
  const { part, evaluation } = from
  const { scale } = useView.getState()
  const size = evaluation.parts.find((p) => p.id === part.id)?.size_mm
  const chosen = useJoin.getState().letters
  if (!size || chosen.length === 0) return
  const upright = straight && Math.abs(dyPx) > Math.abs(dxPx)
  const dx = (straight && upright ? 0 : dxPx) / scale
  let dy = (straight && !upright ? 0 : dyPx) / scale
  const lead = changeOf(part, chosen[0] ?? 0)
  if (Math.abs((lead.dy * size + dy) * scale) < SNAP) dy = -lead.dy * size
  useDesign.getState().edit(movedFrom(part, evaluation, chosen, dx, dy))
  const carried = carriedAlong(evaluation, part.id, chosen)
  const drawn = (ids: { has: (id: number) => boolean }) =>
    evaluation.letters.filter((l) => l.part === part.id && ids.has(l.id)).map((l) => l.d)
  useDrag.setState({ drag: { dragged: drawn(new Set(chosen)), along: drawn(carried), dx, dy } })
}
