import type { Part } from '../../shared/design/recipe'
import { useDesign, usePart } from '../../shared/design/store'

/** The frame that the lettering is a name in. */
export function useFramed(): Part | undefined {
  const id = usePart((part) => part.id)
  return useDesign((s) => s.recipe.parts.find((p) => p.kind === 'frame' && p.members.includes(id)))
}
