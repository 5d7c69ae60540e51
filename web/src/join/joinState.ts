// What the Join stage is busy with: which letters and which seam, and how arrow keys move letters. None of
// it is part of the design.

import { create } from 'zustand'
import { persist } from 'zustand/middleware'

interface JoinState {
  /** Ids of the letters chosen, in the part being edited. */
  letters: readonly number[]
  /** The left letter of the seam looked at. */
  seam: number | null
  /** Pieces and narrowest neck before everything was joined. */
  before: { pieces: number; narrowest: number | null } | null
  chooseLetter: (id: number, more: boolean) => void
  chooseSeam: (left: number, right: number) => void
  remember: (before: JoinState['before']) => void
  clear: () => void
}

export const useJoin = create<JoinState>()((set) => ({
  letters: [],
  seam: null,
  before: null,
  chooseLetter: (id, more) =>
    set(({ letters }) => ({
      seam: null,
      letters: !more ? [id] : letters.includes(id) ? letters.filter((l) => l !== id) : [...letters, id],
    })),
  chooseSeam: (left, right) => set({ seam: left, letters: [right] }),
  remember: (before) => set({ before }),
  clear: () => set({ letters: [], seam: null }),
}))

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
