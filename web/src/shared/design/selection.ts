// What the maker is busy with: one thing chosen, always of a part, and one tool in hand. None of it is part of
// the design.

import { create } from 'zustand'
import { useShallow } from 'zustand/react/shallow'
import type { Problem, Schemas } from '../api/client'

export type TouchKind = Schemas['TouchUpIn']['kind']

export type Selection =
  /** A part, and nothing of it in particular. */
  | { kind: 'part'; part: string }
  /** Several parts; part is the one chosen last, whose fields are shown. */
  | { kind: 'parts'; part: string; parts: readonly string[] }
  | { kind: 'letters'; part: string; letters: readonly number[] }
  /** A seam, by the ids of its letters; the right one is what arrow keys move. */
  | { kind: 'seam'; part: string; left: number; right: number }
  /** A letter whose shape is open: the names of the nodes chosen in it, which of its stroke ends is, and whether
   * changes go to every letter of its kind. */
  | {
      kind: 'shape'
      part: string
      letter: number
      nodes: readonly number[]
      end: number | null
      ofKind: boolean
    }
  /** A bridge, by its number in the design. */
  | { kind: 'bar'; part: string; bar: number }
  /** Something that the check has found. */
  | { kind: 'finding'; part: string; finding: string }

export type Tool =
  /** A drag on the work lays a bridge. */
  | { kind: 'bridge' }
  /** A click or drag on the work repairs the outline. */
  | { kind: 'touch'; touch: TouchKind }
  /** The outline's own points are in hand. */
  | { kind: 'points' }

interface SelectionState {
  selection: Selection
  tool: Tool | null
  /** Why what was last done with the tool could not be. */
  problem: Problem | null
  select: (selection: Selection) => void
  choosePart: (part: string) => void
  /** Chooses parts, the last of them first; none chosen leaves the part that was. */
  chooseParts: (parts: readonly string[]) => void
  /** Chooses a letter, or with others one more or one less. */
  chooseLetter: (part: string, letter: number, more: boolean) => void
  /** Lets go of what is chosen of the part. */
  clear: () => void
  use: (tool: Tool | null) => void
  setProblem: (problem: Problem | null) => void
}

export const useSelection = create<SelectionState>()((set) => ({
  selection: { kind: 'part', part: '' },
  tool: null,
  problem: null,
  select: (selection) => set({ selection }),
  chooseParts: (parts) =>
    set((s) => {
      const part = parts.at(-1)
      if (part === undefined) return { selection: { kind: 'parts', part: s.selection.part, parts: [] } }
      return { selection: parts.length > 1 ? { kind: 'parts', part, parts } : { kind: 'part', part } }
    }),
  // Letters of one part mean nothing in another.
  choosePart: (part) =>
    set((s) =>
      s.selection.part === part && s.selection.kind !== 'parts' ? s : { selection: { kind: 'part', part } },
    ),
  chooseLetter: (part, letter, more) =>
    set(({ selection }) => {
      const chosen = more && selection.part === part ? lettersOf(selection) : []
      const letters = chosen.includes(letter) ? chosen.filter((l) => l !== letter) : [...chosen, letter]
      return {
        selection: letters.length > 0 ? { kind: 'letters', part, letters } : { kind: 'part', part },
      }
    }),
  clear: () => set(({ selection: { part } }) => ({ selection: { kind: 'part', part } })),
  use: (tool) => set({ tool, problem: null }),
  setProblem: (problem) => set({ problem }),
}))

const NONE: readonly number[] = []

/** The parts that are chosen. */
export const partsOf = (selection: Selection): readonly string[] =>
  selection.kind === 'parts' ? selection.parts : [selection.part]

/** The parts chosen, drawn again only when they change. */
export const useChosenParts = () => useSelection(useShallow((s) => partsOf(s.selection)))

/** The letters that a move by hand moves. */
export function lettersOf(selection: Selection): readonly number[] {
  if (selection.kind === 'letters') return selection.letters
  return selection.kind === 'seam' ? [selection.right] : NONE
}

/** The letters chosen: the same array while they are. */
export const useChosenLetters = () => useSelection(useShallow((s) => lettersOf(s.selection)))

export const selectionNow = () => useSelection.getState().selection

/** The shape that is open, if one is. */
export const useOpenShape = () => useSelection((s) => (s.selection.kind === 'shape' ? s.selection : null))

/** Changes what is chosen in the open shape. */
export function chooseNodes(nodes: readonly number[], end: number | null = null) {
  const { selection, select } = useSelection.getState()
  if (selection.kind === 'shape') select({ ...selection, nodes, end })
}

/** Opens the shape of a letter. */
export function openShape(part: string, letter: number) {
  useSelection.setState({
    selection: { kind: 'shape', part, letter, nodes: [], end: null, ofKind: false },
    tool: null,
  })
}

/** Closes the open shape; its letter stays chosen. */
export function closeShape() {
  const { selection, select } = useSelection.getState()
  if (selection.kind === 'shape')
    select({ kind: 'letters', part: selection.part, letters: [selection.letter] })
}
