// Whether the white between letters is shown under the word; kept for this browser.

import { create } from 'zustand'
import { persist } from 'zustand/middleware'

export const useShowsLetterGaps = create<{ shown: boolean; show: (shown: boolean) => void }>()(
  persist((set) => ({ shown: false, show: (shown) => set({ shown }) }), { name: 'fulgen-white' }),
)
