// Stroke ends of letters made longer, without opening a letter's shape.

import { create } from 'zustand'
import type { Lettering } from '../../shared/design/recipe'
import { editOnce } from '../../shared/design/store'
import type { Spot } from '../../shared/view/view'
import type { StrokeEnd } from './EndGrip'
import { addEdit, inShares, type LetterNodes } from './shapes'

/** The end that is to be as long as another one, which is pointed at next. */
interface Matching {
  part: string
  letter: number
  end: number
}

export const useMatching = create<{ matching: Matching | null }>()(() => ({ matching: null }))

export const matchEnd = (matching: Matching | null) => useMatching.setState({ matching })

/** Lengthens a stroke's end by a move on the work, as one step. */
export function lengthenBy(part: Lettering, letter: number, nodes: LetterNodes, end: StrokeEnd, by: Spot) {
  const edit = {
    kind: 'move' as const,
    nodes: [...end.nodes],
    time: 0.5,
    new: 0,
    ...inShares(nodes, by.x, by.y),
  }
  editOnce(addEdit(part, letter, nodes, edit, false), part.id)
}

/** The move by which an end comes as far out as a place, along its own direction. */
export function asFarAs(end: StrokeEnd, to: Spot): Spot {
  const by = (to.x - end.x) * end.dx + (to.y - end.y) * end.dy
  return { x: end.dx * by, y: end.dy * by }
}
