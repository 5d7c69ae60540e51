// Changes of a letter's nodes. Each is kept as an edit of the outline the face draws, for this letter or for
// every letter of its kind.

import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { answer, api, type Schemas } from '../../shared/api/client'
import { habitFor } from '../../shared/design/habits'
import { changeOf, idsOf, withLetters } from '../../shared/design/letters'
import type { Lettering } from '../../shared/design/recipe'
import { selectionNow } from '../../shared/design/selection'
import { partNow, useDesign } from '../../shared/design/store'
import { evaluationNow } from '../../shared/evaluation/store'
import { exact } from './moves'

export type ShapeEdit = Schemas['ShapeEdit']
export type LetterNodes = Schemas['NodesOut']
type LetterShape = Schemas['LetterShape']

/** The nodes of the letter whose shape is open; those of a moment ago while they are worked out. */
export function useNodes(part: string, id: number): { nodes: LetterNodes | undefined; fresh: boolean } {
  const recipe = useDesign((s) => s.recipe)
  const query = useQuery({
    queryKey: ['nodes', recipe, part, id],
    queryFn: ({ signal }) => answer(api.POST('/api/letters/nodes', { body: { recipe, part, id }, signal })),
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 10_000,
  })
  return { nodes: query.error ? undefined : query.data, fresh: query.isSuccess && !query.isPlaceholderData }
}

/** What a letter is of: all the characters that the face merges in it. */
export function textOf(part: Lettering, id: number): string {
  const letters = evaluationNow()?.parts.find((p) => p.id === part.id)?.letters
  return (
    letters?.find((letter) => letter.id === id)?.text ?? Array.from(part.text)[idsOf(part).indexOf(id)] ?? ''
  )
}

/** What is changed of a letter's nodes: its own, or that of its kind. */
export function shapeOf(part: Lettering, id: number): LetterShape | null {
  const text = textOf(part, id)
  return changeOf(part, id).shape ?? part.kinds?.[text] ?? habitFor(part, text)?.shape ?? null
}

/** The part with a letter's nodes changed so; null as the face draws them. */
export function withShape(
  part: Lettering,
  id: number,
  shape: LetterShape | null,
  ofKind: boolean,
): Partial<Lettering> {
  const kinds = { ...part.kinds }
  if (!ofKind) return withLetters(part, [id], () => ({ shape }))
  if (shape) kinds[textOf(part, id)] = shape
  else delete kinds[textOf(part, id)]
  // What is of the kind goes for every letter of it.
  const same = idsOf(part).filter((other) => textOf(part, other) === textOf(part, id))
  return { ...withLetters(part, same, () => ({ shape: null })), kinds }
}

/** The edits of a letter, with one more; a move of what was moved last goes on from it. */
export function addEdit(
  part: Lettering,
  id: number,
  nodes: LetterNodes,
  edit: ShapeEdit,
  ofKind: boolean,
): Partial<Lettering> {
  const before = shapeOf(part, id)
  const edits = before?.of === nodes.mark ? [...before.edits] : []
  const last = edits.at(-1)
  const goesOn =
    last?.kind === edit.kind &&
    ['move', 'before', 'after'].includes(edit.kind) &&
    last.nodes.join() === edit.nodes.join()
  if (last && goesOn)
    edits[edits.length - 1] = { ...last, dx: exact(last.dx + edit.dx), dy: exact(last.dy + edit.dy) }
  else edits.push(edit)
  return withShape(part, id, { of: nodes.mark, edits }, ofKind)
}

/** A move on the work in millimetres, in shares as edits keep them. */
export function inShares({ per_mm: [a = 0, b = 0, c = 0, d = 0] }: LetterNodes, dx: number, dy: number) {
  return { dx: exact(a * dx + b * dy), dy: exact(c * dx + d * dy) }
}

const PLAIN = { dx: 0, dy: 0, time: 0.5, new: 0 }

/** One change of the letter whose shape is open, as the design is now. */
export function editNodes(nodes: LetterNodes, edit: Partial<ShapeEdit> & Pick<ShapeEdit, 'kind' | 'nodes'>) {
  const open = selectionNow()
  if (open.kind !== 'shape') return
  const changed = addEdit(partNow(), open.letter, nodes, { ...PLAIN, ...edit }, open.ofKind)
  useDesign.getState().edit(changed, open.part)
}

/** Moves the chosen nodes by millimetres on the work. */
export function moveNodes(nodes: LetterNodes, dx: number, dy: number) {
  const open = selectionNow()
  if (open.kind === 'shape' && open.nodes.length > 0)
    editNodes(nodes, { kind: 'move', nodes: [...open.nodes], ...inShares(nodes, dx, dy) })
}
