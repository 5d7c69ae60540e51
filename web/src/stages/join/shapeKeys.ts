// Keys while the shape of a letter is open.

import { useEffect } from 'react'
import { chooseNodes, closeShape, selectionNow } from '../../shared/design/selection'
import { asOneStep } from '../../shared/design/store'
import { type Spot, useSteps, useView } from '../../shared/view/view'
import { editNodes, type LetterNodes, moveNodes } from './shapes'

const ARROWS: Record<string, Spot> = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: -1 },
  ArrowDown: { x: 0, y: 1 },
}

/** Arrow keys move the chosen points, Delete takes them out, Escape lets go of them, then of the letter. */
export function useShapeKeys(nodes: LetterNodes | undefined) {
  useEffect(() => {
    function onKey(event: KeyboardEvent) {
      const target = event.target
      if (target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement) return
      if (event.ctrlKey || event.metaKey || !nodes) return
      const open = selectionNow()
      if (open.kind !== 'shape') return
      const chosen = open.nodes
      const arrow = ARROWS[event.key]
      if (event.key === 'Escape') {
        if (chosen.length > 0) chooseNodes([])
        else closeShape()
      } else if (arrow && chosen.length > 0) {
        const step = useSteps.getState().stepMm * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1)
        moveNodes(nodes, useView.getState().side * arrow.x * step, arrow.y * step)
      } else if ((event.key === 'Delete' || event.key === 'Backspace') && chosen.length > 0) {
        asOneStep(() => editNodes(nodes, { kind: 'remove', nodes: [...chosen] }))
        chooseNodes([])
      } else return
      event.preventDefault()
      event.stopImmediatePropagation()
    }
    // Before the bench's own keys.
    window.addEventListener('keydown', onKey, true)
    return () => window.removeEventListener('keydown', onKey, true)
  }, [nodes])
}
