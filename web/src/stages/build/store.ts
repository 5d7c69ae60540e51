// What the maker does in the Build stage: which combination is open, what is picked from, what is looked at.
// None of it is part of the design.

import { create } from 'zustand'
import type { Schemas } from '../../shared/api/client'
import type { Spot } from '../../shared/view/view'
import { DEFAULT_HALO, type Halo } from './parts'

export type Preview = Schemas['PreviewOut']
/** What is picked from, in place of the panel. */
export type Picker = 'shapes' | 'ornaments' | 'drawing' | 'frames' | null

interface BuildState {
  /** The combination whose members are worked on; null for the parts on the work. */
  level: string | null
  picker: Picker
  /** A drawing that was dropped on the bench, for the picker to read. */
  dropped: File | null
  /** What an operation would make, while it is looked at. */
  preview: Preview | null
  /** Which of several chosen parts is the base, where the maker has said so. */
  ground: string | null
  /** How a halo would be laid. */
  halo: Halo
  /** The part whose edges or contours are pointed at, and what for. */
  pointing: { part: string; for: 'edges' | 'contours' } | null
  /** The band of a frame that edges are pointed at for. */
  band: number
  /** The contours of a drawing that are chosen. */
  contours: readonly number[]
  /** The point of a line that was dragged last. */
  node: number | null
  /** What is done with the photograph by hand, and the places on it that were pointed at. */
  photoTool: 'scale' | 'move' | null
  photoSpots: readonly Spot[]
  /** Lines that what is dragged lies on. */
  guides: { x: number | null; y: number | null }
  open: (level: string | null) => void
  pick: (picker: Picker) => void
  look: (preview: Preview | null) => void
  setHalo: (halo: Halo) => void
  setGround: (ground: string) => void
  point: (pointing: BuildState['pointing'], band?: number) => void
  chooseContours: (contours: readonly number[]) => void
  handlePhoto: (tool: BuildState['photoTool']) => void
  hold: (node: number | null) => void
  guide: (x: number | null, y: number | null) => void
}

export const useBuild = create<BuildState>()((set) => ({
  level: null,
  picker: null,
  dropped: null,
  preview: null,
  ground: null,
  halo: DEFAULT_HALO,
  pointing: null,
  band: 0,
  contours: [],
  node: null,
  photoTool: null,
  photoSpots: [],
  guides: { x: null, y: null },
  open: (level) => set({ level, preview: null, pointing: null }),
  pick: (picker) => set({ picker, preview: null, pointing: null }),
  look: (preview) => set({ preview }),
  setHalo: (halo) => set({ halo }),
  setGround: (ground) => set({ ground }),
  point: (pointing, band = 0) => set({ pointing, band, contours: [] }),
  chooseContours: (contours) => set({ contours }),
  handlePhoto: (photoTool) => set({ photoTool, photoSpots: [] }),
  hold: (node) => set({ node }),
  guide: (x, y) => set((s) => (s.guides.x === x && s.guides.y === y ? s : { guides: { x, y } })),
}))

export const buildNow = () => useBuild.getState()
