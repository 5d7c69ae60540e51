// The workbench by keyboard. Keys that type are left to the field they are typed in.

import { useEffect } from 'react'
import type { Evaluation } from '../design/recipe'
import { redo, undo } from '../design/store'
import { useJoin, useSteps } from '../join/joinState'
import { moveLetters } from '../join/moves'
import { useView } from './view'

const PAN_PX = 40

export const KEYS: readonly { keys: string; does: string }[] = [
  { keys: 'Ctrl Z', does: 'undo' },
  { keys: 'Ctrl Shift Z', does: 'redo' },
  { keys: 'V', does: 'next look: film, knife, pieces' },
  { keys: 'F', does: 'fit the lettering in the window' },
  { keys: '1', does: 'true size' },
  { keys: '+  −', does: 'nearer, further' },
  { keys: 'arrows', does: 'move the view, when the work has the focus' },
  { keys: 'arrows in Join', does: 'move the chosen letters; Shift ×10, Alt ÷10' },
  { keys: 'Tab in Join', does: 'next seam; Esc lets go of it' },
  { keys: 'arrows in a shape', does: 'move the chosen points; Delete takes them out' },
  { keys: 'arrows in a field', does: 'more or less; Shift ×10, Alt ÷10' },
]

/** Keys of the bench; in the Join stage, with its evaluation, arrows move the chosen letters. */
export function useKeys(joining: Evaluation | undefined) {
  useEffect(() => {
    function onKeyDown(event: KeyboardEvent) {
      const command = event.ctrlKey || event.metaKey
      const key = event.key.toLowerCase()
      if (command && !event.altKey && (key === 'z' || key === 'y')) {
        event.preventDefault()
        if (key === 'y' || event.shiftKey) redo()
        else undo()
        return
      }
      if (command || typing(event.target)) return
      if (joining && moveChosen(event, joining)) return
      if (event.altKey) return
      const view = useView.getState()
      const action = ACTIONS[event.key] ?? ACTIONS[key]
      if (action) {
        event.preventDefault()
        action(view)
      } else if (event.key.startsWith('Arrow') && onWork(event.target)) {
        event.preventDefault()
        const step = event.shiftKey ? PAN_PX * 5 : PAN_PX
        const [dx, dy] = ARROWS[event.key] ?? [0, 0]
        view.pan(dx * step, dy * step)
      }
    }
    window.addEventListener('keydown', onKeyDown)
    return () => window.removeEventListener('keydown', onKeyDown)
  }, [joining])
}

/** Arrow keys on chosen letters, and Escape that lets go of them. Returns whether the key was used. */
function moveChosen(event: KeyboardEvent, evaluation: Evaluation): boolean {
  if (useJoin.getState().letters.length === 0) return false
  if (event.key === 'Escape') {
    useJoin.getState().clear()
    useView.getState().keepFitted()
    return true
  }
  const [dx, dy] = ARROWS[event.key] ?? [0, 0]
  if (dx === 0 && dy === 0) return false
  event.preventDefault()
  const step = useSteps.getState().stepMm * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1)
  moveLetters(evaluation, -dx * step, -dy * step)
  return true
}

type View = ReturnType<typeof useView.getState>

const ACTIONS: Record<string, (view: View) => void> = {
  v: (view) => view.nextLook(),
  f: (view) => view.keepFitted(),
  '1': (view) => view.trueSize(),
  '+': (view) => view.zoom(1.25),
  '=': (view) => view.zoom(1.25),
  '-': (view) => view.zoom(0.8),
}

const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [1, 0],
  ArrowRight: [-1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
}

function typing(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false
  const kind = target instanceof HTMLInputElement ? target.type : ''
  return (
    target instanceof HTMLTextAreaElement ||
    (kind !== '' && !['radio', 'checkbox', 'range', 'color'].includes(kind))
  )
}

const onWork = (target: EventTarget | null) =>
  target instanceof HTMLElement && target.getAttribute('role') === 'application'
