// The gate in front of every way out: what a maker wanted to do when something was still to be known.

import { create } from 'zustand'
import { asProblem } from '../api/client'
import { joinOf, type Recipe } from '../design/recipe'

/** What waits at the gate: whether it is on its way to a file or to sheets, what it is called, what it is called all
 * the same, and how it is done anyway. */
export interface Waiting {
  to: 'file' | 'sheets'
  label: string
  allTheSame: string
  go: () => void
}

export const useGate = create<{ waiting: Waiting | null }>()(() => ({ waiting: null }))

export const closeGate = () => useGate.setState({ waiting: null })

/** Lets something wait that the server did not do because something is to be known first; whether it was that. */
export function showGate(error: unknown, waiting: Waiting): boolean {
  if (asProblem(error).kind !== 'at-gate') return false
  useGate.setState({ waiting })
  return true
}

/** A design with all its lettering joined. */
export const withAllJoined = (recipe: Recipe): Recipe => ({
  ...recipe,
  parts: recipe.parts.map((part) =>
    part.kind === 'lettering' && joinOf(part.join).how === 'set'
      ? { ...part, join: { ...joinOf(part.join), how: 'auto' } }
      : part,
  ),
})

/** A design of which it is known that its words come off in pieces. */
export const withPiecesKnown = (recipe: Recipe): Recipe => ({
  ...recipe,
  cut: { ...recipe.cut, pieces_accepted: true },
})
