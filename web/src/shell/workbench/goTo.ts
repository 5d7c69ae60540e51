// Goes to a stage, and to a field of it by its name.

import { type Stage, useView } from '../../shared/view/view'
import { useBuild } from '../../stages/build/store'

/** A stage is drawn, and lists are fetched, within this. */
const PATIENCE_MS = 3000

const PANELS: Record<Stage, string> = {
  letter: 'Letter',
  join: 'Join',
  build: 'Build',
  check: 'Check',
  cut: 'Cut',
}

const FIELDS = 'input, textarea, select, button'

/** The field of a stage's panel that goes by a name, once the panel is there. */
function fieldNamed(stage: Stage, name: string): HTMLElement | null {
  const panel = document.querySelector(`aside[aria-label="${PANELS[stage]}"]`)
  if (!panel) return null
  const labelled = [...panel.querySelectorAll<HTMLElement>(FIELDS)].find(
    (field) => field.getAttribute('aria-label') === name || labelOf(field) === name,
  )
  if (labelled) return labelled
  const group = panel.querySelector(`[aria-label="${CSS.escape(name)}"]`)
  return group?.querySelector<HTMLElement>(FIELDS) ?? null
}

const labelOf = (field: HTMLElement) =>
  field instanceof HTMLInputElement || field instanceof HTMLSelectElement
    ? field.labels?.[0]?.textContent
    : field.textContent

/** Opens a stage, and puts the focus on one of its fields once it is there. */
export function goTo(stage: Stage, field?: string) {
  useBuild.getState().pick(null)
  if (useView.getState().stage !== stage) useView.getState().setStage(stage)
  if (!field) return
  const reach = () => {
    const found = fieldNamed(stage, field)
    found?.scrollIntoView({ block: 'center' })
    found?.focus()
    return found !== null
  }
  if (reach()) return
  const seen = new MutationObserver(() => {
    if (reach()) stop()
  })
  const stop = () => {
    seen.disconnect()
    clearTimeout(patience)
  }
  const patience = setTimeout(stop, PATIENCE_MS)
  seen.observe(document.body, { childList: true, subtree: true })
}
