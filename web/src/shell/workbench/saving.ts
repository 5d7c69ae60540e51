// Saves the outline as a file, and says why it cannot be.

import { create } from 'zustand'
import { answer, api, asProblem, type Problem } from '../../shared/api/client'
import { fileName, saveAs } from '../../shared/api/download'
import { useDesign } from '../../shared/design/store'
import { evaluationNow } from '../../shared/evaluation/store'
import { showGate } from '../../shared/ready/gate'

export const useSavingFile = create<{ busy: boolean; problem: Problem | null }>()(() => ({
  busy: false,
  problem: null,
}))

/** Saves the design that is open as SVG. Where there is no outline it says why, rather than doing nothing. */
export async function saveSvg(anyway = false) {
  const { name, recipe } = useDesign.getState()
  const called = name || evaluationNow()?.called || ''
  useSavingFile.setState({ busy: true })
  try {
    const document = await answer(api.POST('/api/svg', { body: { name, recipe, anyway }, parseAs: 'text' }))
    saveAs(`${fileName(called, 'lettering')}.svg`, new Blob([document], { type: 'image/svg+xml' }))
    useSavingFile.setState({ problem: null })
  } catch (error) {
    const go = () => saveSvg(true)
    const waiting = { to: 'file', label: 'Save as SVG', allTheSame: 'Save all the same', go } as const
    if (!showGate(error, waiting)) useSavingFile.setState({ problem: asProblem(error) })
  } finally {
    useSavingFile.setState({ busy: false })
  }
}
