// The workbench by keyboard. Keys that type are left to the field they are typed in.

import { useEffect } from 'react'
import { lettersOf, selectionNow, useSelection } from '../../shared/design/selection'
import { redo, undo } from '../../shared/design/store'
import { glanceAt } from '../../shared/view/glance'
import { type Stage, useSteps, useView } from '../../shared/view/view'
import { buildKey } from '../../stages/build/keys'
import { moveLetters } from '../../stages/join/moves'
import { ACTIONS, actionOf } from './actions'
import { openFinder } from './Finder'

const PAN_PX = 40

export const KEYS: readonly { keys: string; does: string }[] = [
  { keys: 'Ctrl K', does: 'find any action by a few letters of what it does' },
  ...ACTIONS.flatMap(({ keys, does, where }) =>
    keys && where !== 'Build' ? [{ keys, does: does.charAt(0).toLowerCase() + does.slice(1) }] : [],
  ),
  { keys: 'arrows', does: 'move the view, when the work has the focus' },
  { keys: 'B in Join, held', does: 'the letters as the face sets them' },
  { keys: 'B in Check, held', does: 'the work without what makes it ready' },
  { keys: 'arrows in Join', does: 'move the chosen letters; Shift ×10, Alt ÷10' },
  { keys: 'Tab in Join', does: 'next seam; Esc lets go of it' },
  { keys: 'arrows in Build', does: 'move the chosen parts; Shift ×10, Alt ÷10' },
  { keys: 'N, Shift N in Build', does: 'next part, the one before; Enter works inside, Esc steps out' },
  { keys: 'Delete in Build', does: 'takes the chosen parts out; Ctrl D copies them' },
  { keys: 'arrows in Cut', does: 'move the part that has the focus on its sheet; R turns it' },
  { keys: 'arrows in a shape', does: 'move the chosen points; Delete takes them out' },
  { keys: 'arrows in a field', does: 'more or less; Shift ×10, Alt ÷10' },
]

/** Keys of the bench; in the Join stage arrows move the chosen letters. */
export function useKeys() {
  useEffect(() => {
    function onKeyDown(event: KeyboardEvent) {
      const command = event.ctrlKey || event.metaKey
      const key = event.key.toLowerCase()
      if (command && !event.altKey && key === 'k') {
        event.preventDefault()
        openFinder()
        return
      }
      if (command && !event.altKey && event.key === 'Enter') {
        const action = ACTIONS.find(({ keys }) => keys === 'Ctrl Enter')
        if (!action?.whyNot?.()) action?.run()
        event.preventDefault()
        return
      }
      // What is typed into the finder, or a question that waits, is not for the bench.
      if (inDialog(event.target)) return
      if (command && !event.altKey && (key === 'z' || key === 'y')) {
        event.preventDefault()
        if (key === 'y' || event.shiftKey) redo()
        else undo()
        return
      }
      if (
        !typing(event.target) &&
        useView.getState().stage === 'build' &&
        buildKey(event, choosing(event.target))
      ) {
        event.preventDefault()
        return
      }
      if (command || typing(event.target)) return
      if (!choosing(event.target) && useView.getState().stage === 'join' && moveChosen(event)) return
      if (event.altKey) return
      const glance = key === 'b' ? GLANCES[useView.getState().stage] : undefined
      if (glance) {
        if (!event.repeat) glanceAt({ kind: glance })
        return
      }
      const view = useView.getState()
      const action = actionOf(event.key)
      if (action) {
        event.preventDefault()
        action.run()
      } else if (event.key.startsWith('Arrow') && onWork(event.target)) {
        event.preventDefault()
        const step = event.shiftKey ? PAN_PX * 5 : PAN_PX
        const [dx, dy] = ARROWS[event.key] ?? [0, 0]
        view.pan(dx * step, dy * step)
      }
    }
    function onKeyUp(event: KeyboardEvent) {
      if (event.key.toLowerCase() === 'b') glanceAt(null)
    }
    const letGo = () => glanceAt(null)
    window.addEventListener('keydown', onKeyDown)
    window.addEventListener('keyup', onKeyUp)
    window.addEventListener('blur', letGo)
    return () => {
      window.removeEventListener('keydown', onKeyDown)
      window.removeEventListener('keyup', onKeyUp)
      window.removeEventListener('blur', letGo)
      letGo()
    }
  }, [])
}

/** Arrow keys on chosen letters, and Escape that lets go of them. Returns whether the key was used. */
function moveChosen(event: KeyboardEvent): boolean {
  if (lettersOf(selectionNow()).length === 0) return false
  if (event.key === 'Escape') {
    useSelection.getState().clear()
    useView.getState().keepFitted()
    return true
  }
  const [dx, dy] = ARROWS[event.key] ?? [0, 0]
  if (dx === 0 && dy === 0) return false
  event.preventDefault()
  const step = useSteps.getState().stepMm * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1)
  moveLetters(useView.getState().side, -dx * step, -dy * step)
  return true
}

/** What is seen while B is held. */
const GLANCES: Partial<Record<Stage, 'before' | 'as-made'>> = { join: 'before', check: 'as-made' }

const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [1, 0],
  ArrowRight: [-1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
}

const inDialog = (target: EventTarget | null) =>
  target instanceof HTMLElement && target.closest('[role=dialog]') !== null

function typing(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false
  const kind = target instanceof HTMLInputElement ? target.type : ''
  return (
    target instanceof HTMLTextAreaElement ||
    (kind !== '' && !['radio', 'checkbox', 'range', 'color'].includes(kind))
  )
}

/** Whether arrow keys choose among things here: in a list to open, or among radio buttons. */
function choosing(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target instanceof HTMLSelectElement ||
      target.closest('[role=radiogroup], [role=listbox], [role=slider], [role=menu]') !== null ||
      (target instanceof HTMLInputElement && ['radio', 'range'].includes(target.type)))
  )
}

const onWork = (target: EventTarget | null) =>
  target instanceof HTMLElement && target.getAttribute('role') === 'application'
