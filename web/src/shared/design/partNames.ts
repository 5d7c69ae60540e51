// What parts are called.

import type { Part } from './recipe'

const MADE_BY = {
  weld: 'Welded parts',
  cut: 'Cut-out',
  overlap: 'Overlap',
  divide: 'Division',
  halo: 'Parts with a halo',
  edges: 'Welded to edges',
} as const

export const OPERATIONS = ['weld', 'cut', 'overlap', 'divide', 'halo'] as const
export type Operation = keyof typeof MADE_BY

/** Operations as a maker chooses them. */
export const OPERATION_WORDS: Record<Operation, string> = {
  weld: 'Weld',
  cut: 'Cut out',
  overlap: 'Keep overlap',
  divide: 'Divide',
  halo: 'Halo',
  edges: 'Weld to edges',
}

const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1)

/** What a part is called: by the maker, or by what it is. */
export function partName(part: Part | undefined): string {
  if (!part) return ''
  if (part.name) return part.name
  switch (part.kind) {
    case 'lettering':
      return part.text.trim().split(/\s+/).join(' ') || 'No words yet'
    case 'shape':
      return capital(part.form)
    case 'line':
      return part.use === 'cut' || part.use === 'engrave' ? 'Band' : 'Line'
    case 'artwork':
      return part.source || 'Drawing'
    case 'combination':
      return MADE_BY[part.how]
    case 'frame':
      return part.form === 'own' ? 'Frame' : capital(part.form)
    default:
      return capital(part.kind)
  }
}
