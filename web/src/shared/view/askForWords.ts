// Asks for the words of the chosen lettering: the field takes the keys, and what is typed takes the place of
// what is there.

import { create } from 'zustand'

export const useAsking = create<{ wanted: boolean }>()(() => ({ wanted: false }))

export const askForWords = () => useAsking.setState({ wanted: true })

/** Whether the list of faces is open, or was closed just now: the focus goes back to where it was opened. */
export const useFacePicking = create<{ open: boolean; closed: boolean }>()(() => ({
  open: false,
  closed: false,
}))
