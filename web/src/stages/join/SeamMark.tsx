import type { Seam } from '../../shared/evaluation/evaluation'

export type SeamState = Seam['state']

export const STATE_WORDS: Record<SeamState, string> = {
  gap: 'gap',
  touching: 'only touches',
  weak: 'weak',
  narrow: 'narrower than asked',
  lettering: 'as strong as its letters',
  joined: 'holds',
}

export const STATE_INKS: Record<SeamState, string> = {
  gap: 'var(--chakra-colors-knife)',
  touching: 'var(--chakra-colors-knife)',
  weak: 'var(--chakra-colors-knife)',
  narrow: 'var(--chakra-colors-thin)',
  lettering: 'var(--chakra-colors-hold)',
  joined: 'var(--chakra-colors-hold)',
}

/** A seam's state by its shape: a full disc holds, a disc in a ring is as strong as its
 * letters, a half disc is narrower than was asked for, a quarter of one is weak, two arcs that touch only touch,
 * two open arcs are a gap. Drawn around 0, 0 with a radius of 7. */
export function SeamMark({ state }: { state: SeamState }) {
  const ink = STATE_INKS[state]
  if (state === 'joined') return <circle r="6.5" fill={ink} />
  if (state === 'lettering')
    return (
      <g>
        <circle r="5.75" fill="var(--chakra-colors-card)" stroke={ink} strokeWidth="1.75" />
        <circle r="3" fill={ink} />
      </g>
    )
  if (state === 'narrow' || state === 'weak')
    return (
      <g>
        <circle r="5.75" fill="var(--chakra-colors-card)" stroke={ink} strokeWidth="1.5" />
        <path
          d={
            state === 'narrow' ? 'M-5.75 0A5.75 5.75 0 0 0 5.75 0Z' : 'M-4.98 2.87A5.75 5.75 0 0 0 4.98 2.87Z'
          }
          fill={ink}
        />
      </g>
    )
  const apart = state === 'gap' ? 2.6 : 0.4
  return (
    <g fill="none" stroke={ink} strokeWidth="2.4" strokeLinecap={state === 'gap' ? 'round' : 'butt'}>
      <path d={`M${-apart} -5.5A5.5 5.5 0 0 0 ${-apart} 5.5`} />
      <path d={`M${apart} -5.5A5.5 5.5 0 0 1 ${apart} 5.5`} />
    </g>
  )
}

/** The mark as a picture of its own. */
export function SeamIcon({ state }: { state: SeamState }) {
  return (
    <svg width="18" height="18" viewBox="-9 -9 18 18" aria-hidden="true" style={{ flexShrink: 0 }}>
      <SeamMark state={state} />
    </svg>
  )
}
