// Words in faces are asked for together: those that come into sight at about the same time, some at a time.

import { answer, api } from '../api/client'
import type { Sample } from './useFaces'

const SOON_MS = 15
const AT_ONCE = 8
const MOST_LETTERS = 500

interface Waiting {
  slug: string
  found: (sample: Sample) => void
  failed: (error: unknown) => void
}

const waiting = new Map<string, Waiting[]>()

/** The words in one face. */
export function sampleOf(slug: string, text: string): Promise<Sample> {
  return new Promise((found, failed) => {
    const line = text.slice(0, MOST_LETTERS)
    const others = waiting.get(line)
    if (others) others.push({ slug, found, failed })
    else {
      waiting.set(line, [{ slug, found, failed }])
      setTimeout(() => void askFor(line), SOON_MS)
    }
  })
}

async function askFor(text: string) {
  const asked = waiting.get(text) ?? []
  waiting.delete(text)
  for (let first = 0; first < asked.length; first += AT_ONCE) {
    const some = asked.slice(first, first + AT_ONCE)
    try {
      const body = { text, faces: some.map(({ slug }) => slug) }
      const samples = await answer(api.POST('/api/faces/samples', { body }))
      for (const [n, one] of some.entries()) {
        const sample = samples[n]
        if (sample) one.found(sample)
      }
    } catch (error) {
      for (const one of some) one.failed(error)
    }
  }
}
