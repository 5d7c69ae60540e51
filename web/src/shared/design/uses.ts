import type { Use } from './recipe'

/** What an outline is for, in a maker's words. */
export const USE_WORDS: { value: Use; label: string }[] = [
  { value: 'cut', label: 'Cut' },
  { value: 'engrave', label: 'Engrave' },
  { value: 'score', label: 'Score' },
  { value: 'draw', label: 'Draw' },
  { value: 'guide', label: 'Guide' },
]
