// How the work is looked at: look, zoom, place and side. None of it is part of the design. The work itself is
// never mirrored; a design that is cut from the back is shown so by the view.

import { create } from 'zustand'
import { persist } from 'zustand/middleware'
import type { Box } from '../evaluation/evaluation'

/** The stages of the work in their order. */
export type Stage = 'letter' | 'join' | 'build' | 'check' | 'cut'

export type Look = 'film' | 'knife' | 'pieces'
export const LOOKS: readonly { value: Look; label: string }[] = [
  { value: 'film', label: 'Film' },
  { value: 'knife', label: 'Knife' },
  { value: 'pieces', label: 'Pieces' },
]

/** CSS pixels to the millimetre at true size: 96 px to the inch (CSS Values 4, section 6.2). */
export const TRUE_SCALE = 96 / 25.4
const MIN_SCALE = 0.02
const MAX_SCALE = 400

export interface Spot {
  x: number
  y: number
}

interface View {
  /** Pixels to the millimetre, and where the work's 0, 0 lies in the window, in pixels. */
  scale: number
  x: number
  y: number
  /** 1, or -1 where the work is seen from the back. */
  side: 1 | -1
  window: { width: number; height: number }
  /** While true, the view keeps the whole lettering in the window. */
  fitted: boolean
  look: Look
  stage: Stage
  setStage: (stage: Stage) => void
  setLook: (look: Look) => void
  nextLook: () => void
  setWindow: (width: number, height: number) => void
  /** Shows the work from the front or from the back, fitted anew. */
  turnOver: (mirror: boolean) => void
  zoomAt: (factor: number, px: number, py: number) => void
  zoom: (factor: number) => void
  trueSize: () => void
  pan: (dx: number, dy: number) => void
  fitTo: (box: Box) => void
  /** Brings a place of the work into the window, large. */
  show: (box: Box) => void
  keepFitted: () => void
}

const MARGIN = { x: 84, top: 118, bottom: 64 }

export const useView = create<View>()((set, get) => ({
  scale: 1,
  x: 0,
  y: 0,
  side: 1,
  window: { width: 0, height: 0 },
  fitted: true,
  look: 'film',
  stage: 'letter',
  setStage: (stage) => set({ stage, fitted: true }),
  setLook: (look) => set({ look }),
  nextLook: () => {
    const at = LOOKS.findIndex((l) => l.value === get().look)
    set({ look: LOOKS[(at + 1) % LOOKS.length]?.value ?? 'film' })
  },
  setWindow: (width, height) => set({ window: { width, height } }),
  turnOver: (mirror) => {
    const side = mirror ? -1 : 1
    if (side !== get().side) set({ side, fitted: true })
  },
  zoomAt: (factor, px, py) =>
    set(({ scale, x, y }) => {
      const next = Math.min(MAX_SCALE, Math.max(MIN_SCALE, scale * factor))
      const grown = next / scale
      return { scale: next, x: px - (px - x) * grown, y: py - (py - y) * grown, fitted: false }
    }),
  zoom: (factor) => get().zoomAt(factor, get().window.width / 2, get().window.height / 2),
  trueSize: () => get().zoom(TRUE_SCALE / get().scale),
  pan: (dx, dy) => set(({ x, y }) => ({ x: x + dx, y: y + dy, fitted: false })),
  fitTo: (box) =>
    set(({ window: { width, height }, side }) => {
      if (!width || !box.width || !box.height) return {}
      const roomX = Math.max(width - 2 * MARGIN.x, 40)
      const roomY = Math.max(height - MARGIN.top - MARGIN.bottom, 40)
      const scale = Math.min(roomX / box.width, roomY / box.height, MAX_SCALE)
      const seen = seenBox(box, side)
      return {
        scale,
        x: MARGIN.x + (roomX - seen.width * scale) / 2 - seen.x * scale,
        y: MARGIN.top + (roomY - seen.height * scale) / 2 - seen.y * scale,
      }
    }),
  show: (box) => {
    set({ fitted: false })
    get().fitTo(box)
  },
  keepFitted: () => set({ fitted: true }),
}))

/** A box of the work as it is seen from a side. */
export const seenBox = (box: Box, side: 1 | -1): Box => (side === 1 ? box : { ...box, x: -box.x - box.width })

/** From millimetres of the work to pixels of the window, and back. */
export interface Projection {
  scale: number
  side: 1 | -1
  px: (at: Spot) => Spot
  mm: (at: Spot) => Spot
}

export function projection({ scale, side, x, y }: Pick<View, 'scale' | 'side' | 'x' | 'y'>): Projection {
  return {
    scale,
    side,
    px: (at) => ({ x: x + side * at.x * scale, y: y + at.y * scale }),
    mm: (at) => ({ x: (side * (at.x - x)) / scale, y: (at.y - y) / scale }),
  }
}

/** The view's projection, anew whenever the view moves. */
export const useProjection = (): Projection => projection(useView())

/** The transform by which the work's millimetres are drawn in the window. */
export const transformOfView = ({ scale, side, x, y }: Pick<View, 'scale' | 'side' | 'x' | 'y'>) =>
  `translate(${x} ${y}) scale(${side * scale} ${scale})`

/** Faces used lately, newest first; kept in this browser. */
export const useRecentFaces = create<{ slugs: string[]; used: (slug: string) => void }>()(
  persist(
    (set) => ({
      slugs: [],
      used: (slug) => set(({ slugs }) => ({ slugs: [slug, ...slugs.filter((s) => s !== slug)].slice(0, 6) })),
    }),
    { name: 'fulgen-recent-faces' },
  ),
)

/** How arrow keys move letters: kept in this browser. */
export const useSteps = create<{
  stepMm: number
  carry: boolean
  setStep: (mm: number) => void
  setCarry: (carry: boolean) => void
}>()(
  persist(
    (set) => ({
      stepMm: 0.3,
      carry: true,
      setStep: (stepMm) => set({ stepMm }),
      setCarry: (carry) => set({ carry }),
    }),
    { name: 'fulgen-steps' },
  ),
)
