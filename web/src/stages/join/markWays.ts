/** What is done with the dots and accents of letters. */
export const MARK_WAYS = [
  { value: 'keep', label: 'Apart' },
  { value: 'lower', label: 'Lowered' },
  { value: 'bridge', label: 'Bridged' },
] as const
