// Letters moved by hand. A move is kept as a share of the face's size, so it scales with the lettering.

import { withLetters } from '../design/letters'
import type { Evaluation, Lettering } from '../design/recipe'
import { partNow, useDesign } from '../design/store'
import { useJoin, useSteps } from './joinState'

/** Moves the chosen letters by millimetres on the work. */
export function moveLetters(evaluation: Evaluation, dxMm: number, dyMm: number) {
  const part = partNow()
  const chosen = useJoin.getState().letters
  if (chosen.length > 0) useDesign.getState().edit(movedFrom(part, evaluation, chosen, dxMm, dyMm))
}

/** The part with letters moved by millimetres from where they are in it; sideways they take the rest of
 * their line along when that is wished. */
export function movedFrom(
  part: Lettering,
  evaluation: Evaluation,
  chosen: readonly number[],
  dxMm: number,
  dyMm: number,
) {
  const size = evaluation.parts.find((p) => p.id === part.id)?.size_mm
  if (!size) return {}
  const dx = (useDesign.getState().recipe.mirror ? -dxMm : dxMm) / size
  const dy = dyMm / size
  const firsts = useSteps.getState().carry ? firstOfEachLine(evaluation, part.id, chosen) : null
  return withLetters(part, chosen, (now, id) => ({
    dy: exact(now.dy + dy),
    ...(firsts === null
      ? { dx: exact(now.dx + dx) }
      : firsts.has(id)
        ? { carry: exact(now.carry + dx) }
        : {}),
  }))
}

/** Of the chosen letters, the first of each line: it takes the others along. */
export function firstOfEachLine(
  evaluation: Evaluation,
  part: string,
  chosen: readonly number[],
): Set<number> {
  const first = new Map<number, { at: number; id: number }>()
  for (const letter of evaluation.letters) {
    if (letter.part !== part || !chosen.includes(letter.id)) continue
    const known = first.get(letter.line)
    if (!known || letter.at < known.at) first.set(letter.line, { at: letter.at, id: letter.id })
  }
  return new Set([...first.values()].map(({ id }) => id))
}

/** Which letters a sideways move of the chosen ones takes along, those themselves left out. */
export function carriedAlong(evaluation: Evaluation, part: string, chosen: readonly number[]): Set<number> {
  const along = new Set<number>()
  if (!useSteps.getState().carry) return along
  const firsts = firstOfEachLine(evaluation, part, chosen)
  for (const first of evaluation.letters.filter((l) => l.part === part && firsts.has(l.id)))
    for (const letter of evaluation.letters)
      if (
        letter.part === part &&
        letter.line === first.line &&
        letter.at > first.at &&
        !chosen.includes(letter.id)
      )
        along.add(letter.id)
  return along
}

/** Puts the feet of the chosen letters on one line: that of the first of them. */
export function alignFeet(evaluation: Evaluation) {
  const part = partNow()
  const size = evaluation.parts.find((p) => p.id === part.id)?.size_mm
  const boxes = evaluation.letters.filter(
    (l) => l.part === part.id && useJoin.getState().letters.includes(l.id),
  )
  const first = boxes[0]
  if (!size || !first) return
  const foot = first.box.y + first.box.height
  const lacks = new Map(boxes.map((l) => [l.id, (foot - l.box.y - l.box.height) / size]))
  useDesign
    .getState()
    .edit(withLetters(part, [...lacks.keys()], (now, id) => ({ dy: exact(now.dy + (lacks.get(id) ?? 0)) })))
}

/** Free of the dust of binary fractions, so that a step back is back. */
export const exact = (value: number) => Math.round(value * 1e7) / 1e7
