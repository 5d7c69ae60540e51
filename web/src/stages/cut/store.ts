// What the Cut stage looks at: the sheet that is to be cut, and the copy that is chosen. None of it is kept.

import { create } from 'zustand'

interface CutState {
  /** The place of a sheet among all. */
  sheet: number
  /** The chosen copy by its key. */
  chosen: string | null
}

export const useCut = create<CutState>()(() => ({ sheet: 0, chosen: null }))

export const chooseSheet = (sheet: number) => useCut.setState({ sheet })
export const chooseCopy = (chosen: string | null) => useCut.setState({ chosen })
