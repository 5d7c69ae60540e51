// Words in faces are asked for together: those that come into sight at about the same time, some at a time.

import { answer, api } from '../api/client'
import type { Sample } from './useFaces'

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
      queueMicrotask(() => void askForAll(line))
    }
  })
}

async function askForAll(text: string) {
  const asked = waiting.get(text) ?? []
  waiting.delete(text)
  for (let first = 0; first < asked.length; first += AT_ONCE)
    await askFor(asked.slice(first, first + AT_ONCE), text)
}

async function askFor(some: readonly Waiting[], text: string) {
  try {
    const body = { text, faces: some.map(({ slug }) => slug) }
    const samples = await answer(api.POST('/api/faces/samples', { body }))
    const bySlug = new Map(samples.map((sample) => [sample.slug, sample]))
    for (const { slug, found, failed } of some) {
      const sample = bySlug.get(slug)
      if (sample) found(sample)
      else failed(new Error(`${slug} is not there any more, or cannot be drawn`))
    }
  } catch (error) {
    for (const one of some) one.failed(error)
  }
}
