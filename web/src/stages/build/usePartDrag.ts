// Parts moved, made larger and turned on the work: each drag is one step to undo.

import { type PointerEvent, useCallback } from 'react'
import { useSelection } from '../../shared/design/selection'
import { holdStep, useDesign } from '../../shared/design/store'
import { evaluationNow } from '../../shared/evaluation/store'
import { projection, type Spot, useView } from '../../shared/view/view'
import { boxesOf, boxOfChosen, chosenNow, draggedWith, openChosen } from './actions'
import { about, alike, arranged, boxAround, movedBy, snapLines, snapped } from './arrange'
import { grown } from './resize'
import { buildNow, useBuild } from './store'

/** Pixels within which an edge or middle snaps to another. */
const REACH_PX = 7
/** A drag begins after so many pixels. */
const START_PX = 3

type Move = (now: Spot, event: globalThis.PointerEvent, from: Spot) => void

/** Follows a pointer until it is let go, in millimetres of the work. Returns at once. */
export function follow(
  event: PointerEvent<Element>,
  onMove: Move,
  onEnd: (moved: boolean) => void = () => {},
) {
  event.stopPropagation()
  event.preventDefault()
  const ground = event.currentTarget.closest('[role=application]')
  const rect = ground?.getBoundingClientRect()
  if (!rect) return
  const spot = (e: { clientX: number; clientY: number }) =>
    projection(useView.getState()).mm({ x: e.clientX - rect.left, y: e.clientY - rect.top })
  const from = spot(event)
  const start = { x: event.clientX, y: event.clientY }
  let moved = false
  const move = (e: globalThis.PointerEvent) => {
    if (!moved && Math.hypot(e.clientX - start.x, e.clientY - start.y) < START_PX) return
    if (!moved) {
      holdStep(true)
      // The work stays where it is under the hand.
      useView.setState({ fitted: false })
    }
    moved = true
    onMove(spot(e), e, from)
  }
  const end = () => {
    window.removeEventListener('pointermove', move)
    window.removeEventListener('pointerup', end)
    window.removeEventListener('pointercancel', end)
    if (moved) holdStep(false)
    buildNow().guide(null, null)
    onEnd(moved)
  }
  window.addEventListener('pointermove', move)
  window.addEventListener('pointerup', end)
  window.addEventListener('pointercancel', end)
}

/** What a pointer on a part does: chooses it, moves all that is chosen, opens a combination. */
export function usePartDrag() {
  const onPointerDown = useCallback((event: PointerEvent<SVGElement>) => {
    if (event.button !== 0) return
    const id = event.currentTarget.getAttribute('data-hit') ?? ''
    const before = chosenNow()
    const more = event.shiftKey
    const { chooseParts } = useSelection.getState()
    if (more) chooseParts(before.includes(id) ? before.filter((p) => p !== id) : [...before, id])
    else if (!before.includes(id)) chooseParts([id])
    event.currentTarget.closest<HTMLElement>('[role=application]')?.focus({ preventScroll: true })
    const { recipe } = useDesign.getState()
    const evaluation = evaluationNow()
    const ids = chosenNow()
    const box = boxAround(boxesOf(ids).map((b) => b.box))
    if (!evaluation || !box) return event.stopPropagation()
    const lines = snapLines(evaluation, recipe, draggedWith(ids))
    follow(
      event,
      (now, e, from) => {
        let [dx, dy] = [now.x - from.x, now.y - from.y]
        if (e.shiftKey) {
          if (Math.abs(dx) > Math.abs(dy)) dy = 0
          else dx = 0
        }
        const reach = e.ctrlKey ? 0 : REACH_PX / useView.getState().scale
        const left = box.x + dx
        const top = box.y + dy
        const across = snapped([left, left + box.width / 2, left + box.width], lines.across, reach)
        const down = snapped([top, top + box.height / 2, top + box.height], lines.down, reach)
        buildNow().guide(across?.at ?? null, down?.at ?? null)
        const change = alike(ids, movedBy(dx + (across?.by ?? 0), dy + (down?.by ?? 0)))
        useDesign.getState().editRecipe({ parts: arranged(recipe, evaluation, change).parts })
      },
      (moved) => {
        // A click on one of several chosen chooses it alone.
        if (!moved && !more && before.length > 1) chooseParts([id])
      },
    )
  }, [])
  const onDoubleClick = useCallback((event: { stopPropagation: () => void }) => {
    event.stopPropagation()
    openChosen()
  }, [])
  return { onPointerDown, onDoubleClick }
}

/** Which corner or side of the box is dragged: -1, 0 or 1 across and down. */
export interface Grip {
  across: -1 | 0 | 1
  down: -1 | 0 | 1
}

/** Chosen parts made larger by a corner or a side; with Alt from the middle, with Shift in proportion or not. */
export function dragGrip(event: PointerEvent<Element>, grip: Grip) {
  const box = boxOfChosen()
  const evaluation = evaluationNow()
  const { recipe } = useDesign.getState()
  if (!box || !evaluation) return
  const ids = new Set(chosenNow())
  const stays = (centred: boolean) => ({
    x: centred || grip.across === 0 ? box.x + box.width / 2 : grip.across > 0 ? box.x : box.x + box.width,
    y: centred || grip.down === 0 ? box.y + box.height / 2 : grip.down > 0 ? box.y : box.y + box.height,
  })
  follow(event, (now, e, from) => {
    const fixed = stays(e.altKey)
    const factor = (at: number, start: number, hold: number, is: number) =>
      is === 0 || Math.abs(start - hold) < 1e-6 ? 1 : Math.max(0.02, (at - hold) / (start - hold))
    let across = factor(now.x, from.x, fixed.x, grip.across)
    let down = factor(now.y, from.y, fixed.y, grip.down)
    const corner = grip.across !== 0 && grip.down !== 0
    if (corner !== e.shiftKey) {
      // Corners keep the proportions, sides do with Shift.
      const one = Math.abs(Math.log(across)) > Math.abs(Math.log(down)) ? across : down
      across = one
      down = one
    }
    const next = grown(recipe, evaluation, ids, { across, down, ...fixed })
    useDesign.getState().editRecipe({ parts: next.parts })
  })
}

/** Chosen parts turned about their middle; with Shift in steps of 15 degrees. */
export function dragTurn(event: PointerEvent<Element>) {
  const box = boxOfChosen()
  const evaluation = evaluationNow()
  const { recipe } = useDesign.getState()
  if (!box || !evaluation) return
  const ids = chosenNow()
  const middle = { x: box.x + box.width / 2, y: box.y + box.height / 2 }
  const angle = (at: Spot) => (Math.atan2(at.y - middle.y, at.x - middle.x) * 180) / Math.PI
  follow(event, (now, e, from) => {
    const by = angle(now) - angle(from)
    const turn = e.shiftKey ? Math.round(by / 15) * 15 : Math.round(by * 10) / 10
    const next = arranged(recipe, evaluation, alike(ids, about(middle.x, middle.y, 1, turn)))
    useDesign.getState().editRecipe({ parts: next.parts })
  })
}

/** A rectangle drawn on the ground chooses what lies in it. */
export function dragMarquee(event: PointerEvent<Element>, show: (from: Spot, to: Spot | null) => void) {
  const before = event.shiftKey ? chosenNow() : []
  const candidates = boxesOf(
    [...document.querySelectorAll('[data-hit]')].map((e) => e.getAttribute('data-hit') ?? ''),
  )
  follow(
    event,
    (now, _, from) => {
      show(from, now)
      const [left, right] = [Math.min(from.x, now.x), Math.max(from.x, now.x)]
      const [top, bottom] = [Math.min(from.y, now.y), Math.max(from.y, now.y)]
      const inside = candidates
        .filter(
          ({ box: b }) => b.x >= left && b.y >= top && b.x + b.width <= right && b.y + b.height <= bottom,
        )
        .map(({ id }) => id)
      useSelection.getState().chooseParts([...new Set([...before, ...inside])])
    },
    (moved) => {
      show({ x: 0, y: 0 }, null)
      if (!moved && !event.shiftKey) {
        useSelection.getState().chooseParts([])
        if (useBuild.getState().pointing === null) buildNow().chooseContours([])
      }
    },
  )
}
