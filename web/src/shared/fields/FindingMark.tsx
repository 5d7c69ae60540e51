/** A finding by its shape: a notched disc blocks the cut, an open ring is to be looked at, a full disc is
 * clear. */
export function FindingMark({ blocks, look }: { blocks: boolean; look: boolean }) {
  const ink = blocks
    ? 'var(--chakra-colors-knife)'
    : look
      ? 'var(--chakra-colors-thin)'
      : 'var(--chakra-colors-hold)'
  return (
    <svg width="16" height="16" viewBox="-8 -8 16 16" aria-hidden="true">
      {blocks ? (
        <path d="M0 0L4.6 -4.6A6.5 6.5 0 1 1 -4.6 -4.6Z" fill={ink} />
      ) : look ? (
        <circle r="5.3" fill="none" stroke={ink} strokeWidth="2.4" />
      ) : (
        <circle r="6" fill={ink} />
      )}
    </svg>
  )
}
