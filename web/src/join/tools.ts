// What is in hand in the Join stage besides letters and seams: the bridge tool, or one letter's shape.

import { create } from 'zustand'

interface Tools {
  /** Whether a drag on the work lays a bridge. */
  bridging: boolean
  /** The bridge that is looked at, by its number in the part. */
  bar: number | null
  /** The letter whose shape is open. */
  shaping: number | null
  /** Names of the nodes chosen in it. */
  nodes: readonly number[]
  /** Which of its stroke ends is chosen. */
  end: number | null
  /** Whether changes go to every letter of the kind. */
  ofKind: boolean
  bridge: (on: boolean) => void
  chooseBar: (bar: number | null) => void
  shape: (letter: number | null) => void
  chooseNodes: (nodes: readonly number[], end?: number | null) => void
  setOfKind: (on: boolean) => void
}

export const useTools = create<Tools>()((set) => ({
  bridging: false,
  bar: null,
  shaping: null,
  nodes: [],
  end: null,
  ofKind: false,
  bridge: (bridging) => set({ bridging, bar: null }),
  chooseBar: (bar) => set({ bar }),
  shape: (shaping) => set({ shaping, nodes: [], end: null, bridging: false }),
  chooseNodes: (nodes, end = null) => set({ nodes, end }),
  setOfKind: (ofKind) => set({ ofKind }),
}))
