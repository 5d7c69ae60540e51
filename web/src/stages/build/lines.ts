// The lines of a lettering as parts of their own.

import type { Bar, Lettering, Part, Recipe } from '../../shared/design/recipe'
import { onWork, type Part as PartView, type Placement, undone } from '../../shared/evaluation/evaluation'
import { boxAround } from './arrange'
import { freshId } from './parts'

/** The recipe with each line of a lettering a part of its own, as large as it was and where it stood. What was
 * done to a letter stays with it. `level` is where the frame of its level lies on the work. */
export function withLinesApart(
  recipe: Recipe,
  part: Lettering,
  view: PartView,
  level: Placement,
): { recipe: Recipe; parts: string[] } {
  const lines = part.text.split('\n')
  const ids = part.letter_ids?.length === part.text.length ? part.letter_ids : countedFrom1(part.text)
  const across = part.align ?? 'left'
  const parts: Lettering[] = []
  let start = 0
  for (const [n, text] of lines.entries()) {
    const own = ids.slice(start, start + text.length)
    start += text.length + 1
    const box = boxAround(view.letters.filter((l) => l.line === n).map((l) => l.box))
    if (text.trim() === '' || !box || !view.made) continue
    const taken = parts.map((p) => p.id)
    const id = parts.length === 0 ? part.id : freshId(recipe, 'lettering', taken)
    const held = { left: box.x, centre: box.x + box.width / 2, right: box.x + box.width }[across]
    const down = (view.made.baselines_mm[n] ?? 0) - (view.made.baselines_mm[0] ?? 0)
    const place = onWork(view.place, { x: 0, y: down })
    const at = onWork(undone(level), { x: held, y: place.y })
    parts.push({
      ...part,
      id,
      text,
      letter_ids: [...own],
      letters: onlyOf(part.letters ?? {}, new Set(own)),
      size: { measure: 'face', mm: view.made.size_mm },
      place: { ...part.place, x: rounded(at.x), y: rounded(at.y) },
      alignment: { to: null, across, down: null },
    })
  }
  const partOf = new Map(parts.flatMap((p) => (p.letter_ids ?? []).map((letter) => [letter, p.id] as const)))
  const moved = <E extends Bar['start']>(end: E): E =>
    end.part === part.id && end.letter != null ? { ...end, part: partOf.get(end.letter) ?? part.id } : end
  return {
    recipe: {
      ...recipe,
      parts: recipe.parts.flatMap((p): Part[] => (p.id === part.id ? parts : [p])),
      bars: recipe.bars.map((bar) => ({ ...bar, start: moved(bar.start), end: moved(bar.end) })),
      touch_ups: recipe.touch_ups.map((t) => ({ ...t, at: moved(t.at), to: t.to ? moved(t.to) : null })),
      accepted_findings: recipe.accepted_findings.map((k) => ({ ...k, at: moved(k.at) })),
    },
    parts: parts.map((p) => p.id),
  }
}

const onlyOf = <T>(letters: Record<string, T>, own: ReadonlySet<number>): Record<string, T> =>
  Object.fromEntries(Object.entries(letters).filter(([id]) => own.has(Number(id))))

const countedFrom1 = (text: string) => [...text].map((_, n) => n + 1)

const rounded = (mm: number) => Math.round(mm * 1e5) / 1e5
