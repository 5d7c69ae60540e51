import { create } from 'zustand'

export const MOST_HELD = 3

/** Faces that lie beside each other below the work, to be compared. */
export const useHeld = create<{
  slugs: readonly string[]
  hold: (slug: string) => void
  putAway: (slug: string) => void
}>()((set) => ({
  slugs: [],
  hold: (slug) =>
    set(({ slugs }) =>
      slugs.includes(slug) || slugs.length >= MOST_HELD ? {} : { slugs: [...slugs, slug] },
    ),
  putAway: (slug) => set(({ slugs }) => ({ slugs: slugs.filter((one) => one !== slug) })),
}))
