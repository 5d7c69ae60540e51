import type { Part } from '../../shared/design/recipe'
import { useDesign } from '../../shared/design/store'

const EDGED: ReadonlySet<Part['kind']> = new Set(['shape', 'line', 'artwork', 'ornament', 'combination'])

/** Parts beside the lettering whose edge it can run along. */
export function useLines(): Part[] {
  const parts = useDesign((s) => s.recipe.parts)
  const inside = new Set(
    parts.flatMap((p) => (p.kind === 'combination' || p.kind === 'frame' ? p.members.map(String) : [])),
  )
  return parts.filter((p) => EDGED.has(p.kind) && !inside.has(p.id))
}
