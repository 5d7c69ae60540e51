// The Build stage by keyboard.

import { findPart } from '../../shared/design/recipe'
import { selectionNow, useSelection } from '../../shared/design/selection'
import { editOnce, useDesign } from '../../shared/design/store'
import { useSteps, useView } from '../../shared/view/view'
import { chooseNext, chosenNow, copy, nudge, openChosen, remove, stepOut } from './actions'
import { onLevel } from './parts'
import { buildNow } from './store'

const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}

/** Whether a key means something in the Build stage; then it was used. ``inList``: arrows choose there. */
export function buildKey(event: KeyboardEvent, inList: boolean): boolean {
  const command = event.ctrlKey || event.metaKey
  const key = event.key.toLowerCase()
  if (buildNow().picker !== null) return escaped(event.key)
  if (command && key === 'd') return did(() => copy(chosenNow()))
  if (command && key === 'a') return did(chooseAll)
  if (command) return false
  const arrow = ARROWS[event.key]
  if (arrow && !inList) {
    if (chosenNow().length === 0) return false
    const step = useSteps.getState().stepMm * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1)
    return did(() => nudge(arrow[0] * step * useView.getState().side, arrow[1] * step))
  }
  if (event.key === 'Delete' || event.key === 'Backspace') return did(takeOut)
  if (event.key === 'Escape') return did(letGo)
  if (key === 'n') return did(() => chooseNext(event.shiftKey ? -1 : 1))
  // Enter on a button presses that.
  if (event.key === 'Enter' && !(event.target instanceof HTMLButtonElement)) return openChosen()
  return false
}

function did(action: () => void): true {
  action()
  return true
}

function escaped(key: string): boolean {
  if (key !== 'Escape') return false
  buildNow().pick(null)
  return true
}

function letGo() {
  if (buildNow().pointing) buildNow().point(null)
  else stepOut()
}

function chooseAll() {
  const { recipe } = useDesign.getState()
  useSelection.getState().chooseParts(onLevel(recipe, buildNow().level).map((p) => p.id))
}

/** A line loses the point that was held last, else the chosen parts go. */
function takeOut() {
  const part = findPart(useDesign.getState().recipe, selectionNow().part)
  const { node, hold } = buildNow()
  const points = part?.kind === 'line' && part.course === 'free' ? (part.points ?? []) : []
  if (part && node !== null && points.length > 2 && chosenNow().length === 1) {
    editOnce({ points: points.filter((_, n) => n !== node) }, part.id)
    hold(null)
    return
  }
  remove(chosenNow())
}
