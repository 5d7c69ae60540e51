// Keys while the outline is in hand.

import { useEffect, useRef } from 'react'
import { useSelection } from '../../shared/design/selection'
import type { NodeAt } from './outlineNodes'

/** Keys for the point that is pointed at, or chosen: Delete takes it out, S smooths it. Escape lets go of it, then
 * of the outline. */
export function usePointKeys(
  meant: NodeAt | null,
  act: (kind: 'remove' | 'smooth', at: NodeAt) => void,
  letGo: (() => void) | null,
) {
  const now = useRef({ meant, act, letGo })
  now.current = { meant, act, letGo }
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target
      if (target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement) return
      if (event.ctrlKey || event.metaKey || event.altKey) return
      const { meant: at, act: done, letGo: free } = now.current
      if (event.key === 'Escape') {
        if (free) free()
        else useSelection.getState().use(null)
      } else if (at && (event.key === 'Delete' || event.key === 'Backspace')) done('remove', at)
      else if (at && event.key.toLowerCase() === 's') done('smooth', at)
      else return
      event.preventDefault()
      event.stopImmediatePropagation()
    }
    // Before the bench's own keys.
    window.addEventListener('keydown', onKey, true)
    return () => window.removeEventListener('keydown', onKey, true)
  }, [])
}
