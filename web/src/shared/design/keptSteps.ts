// Steps of undo over a reload: kept for this window, as many of the last as there is room for.

import type { Work } from './drafts'

export interface Steps {
  past: readonly Work[]
  future: readonly Work[]
}

/** Letters that all steps may take together: a browser keeps about 5 million for a page. */
const MOST_LETTERS = 2_000_000
const MOST_STEPS = 100

const keyOf = (design: string) => `fulgen-steps-${design}`

/** Keeps the steps of a design, with its recipe as it is now: they fit that recipe and no other. */
export function keepSteps(store: Storage, design: string, now: Work, { past, future }: Steps) {
  try {
    for (const key of Object.keys(store))
      if (key.startsWith('fulgen-steps-') && key !== keyOf(design)) store.removeItem(key)
    let most = MOST_STEPS
    let written = ''
    do {
      written = JSON.stringify({ now, past: past.slice(-most), future: future.slice(-most) })
      most = Math.floor(most / 2)
    } while (written.length > MOST_LETTERS && most > 0)
    if (written.length <= MOST_LETTERS) store.setItem(keyOf(design), written)
    else store.removeItem(keyOf(design))
  } catch {
    // Without room there are no steps after a reload; nothing else is lost.
  }
}

/** The steps that were kept of a design, if it is now as it was then. */
export function keptSteps(store: Storage, design: string, now: Work): Steps | null {
  try {
    const kept = JSON.parse(store.getItem(keyOf(design)) ?? 'null') as (Steps & { now: Work }) | null
    if (!kept || written(kept.now) !== written(now)) return null
    return { past: kept.past, future: kept.future }
  } catch {
    return null
  }
}

/** A design as text, whatever the order in which its fields were written. */
const written = (work: Work) => JSON.stringify(inOrder(work))

function inOrder(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(inOrder)
  if (value === null || typeof value !== 'object') return value
  const rows = Object.entries(value).toSorted(([a], [b]) => (a < b ? -1 : 1))
  return Object.fromEntries(rows.map(([key, held]) => [key, inOrder(held)]))
}
