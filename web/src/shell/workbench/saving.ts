// Saves the outline as a file, and says why it cannot be.

import { create } from 'zustand'
import { api, asProblem, type Problem } from '../../shared/api/client'
import { download } from '../../shared/api/download'
import { useDesign } from '../../shared/design/store'
import { showGate } from '../../shared/ready/gate'

export const useSavingFile = create<{ busy: boolean; problem: Problem | null }>()(() => ({
  busy: false,
  problem: null,
}))

/** Saves the design that is open as SVG. Where there is no outline it says why, rather than doing nothing. */
export async function saveSvg(anyway = false) {
  const { name, recipe } = useDesign.getState()
  useSavingFile.setState({ busy: true })
  try {
    await download(api.POST('/api/svg', { body: { name, recipe, anyway }, parseAs: 'blob' }))
    useSavingFile.setState({ problem: null })
  } catch (error) {
    const go = () => saveSvg(true)
    const waiting = { to: 'file', label: 'Save as SVG', allTheSame: 'Save all the same', go } as const
    if (!showGate(error, waiting)) useSavingFile.setState({ problem: asProblem(error) })
  } finally {
    useSavingFile.setState({ busy: false })
  }
}
