// What the maker does to parts: each is one step to undo.

import { api } from '../../shared/api/client'
import type { Operation } from '../../shared/design/partNames'
import type { Frame, Lettering, Part, Recipe } from '../../shared/design/recipe'
import { AT_ORIGIN, findPart, isBlank, withPart } from '../../shared/design/recipe'
import { partsOf, selectionNow, useSelection } from '../../shared/design/selection'
import { asOneStep, editRecipeOnce, useDesign } from '../../shared/design/store'
import { type Box, type Evaluation, onWork, type Placement, undone } from '../../shared/evaluation/evaluation'
import { evaluationNow, onceMeasured } from '../../shared/evaluation/store'
import { askForWords } from '../../shared/view/askForWords'
import { type Spot, useView } from '../../shared/view/view'
import {
  type AlignEdge,
  type Alignment,
  alignedTo,
  canAlign,
  dependsOn,
  freed,
  type Pulled,
  realigned,
} from './alignment'
import { about, alike, arranged, type Boxed, beside, boxAround, movedBy } from './arrange'
import { asFitted, framed, madeFrame, namesFor, withKept, withName } from './frames'
import { levelOf, viewOf } from './levels'
import { withLinesApart } from './lines'
import {
  bound,
  combined,
  copied,
  type Halo,
  insideOf,
  letteringsIn,
  newPart,
  onLevel,
  parentOf,
  released,
  reordered,
  topOf,
  travelling,
  withGround,
  withInner,
  withNew,
  without,
} from './parts'
import { buildNow } from './store'

const recipeNow = () => useDesign.getState().recipe

/** The parts chosen that are on the level worked on, and those that travel with them. */
export function chosenNow(): string[] {
  const recipe = recipeNow()
  const level = new Set(onLevel(recipe, buildNow().level).map((p) => p.id))
  const chosen = partsOf(selectionNow()).filter((id) => level.has(id))
  return travelling(recipe, chosen).filter((id) => level.has(id))
}

const choose = (parts: readonly string[]) => useSelection.getState().chooseParts(parts)

/** Where a new part goes: the middle of what is seen of the work. */
export function middleOfView(): Placement {
  const { x, y, scale, side, window } = useView.getState()
  const found = evaluationNow()
  const box = found?.box
  const seen = { x: (side * (window.width / 2 - x)) / scale, y: (window.height / 2 - y) / scale }
  const at = box && box.width > 0 ? seen : { x: 0, y: 0 }
  return { x: Math.round(at.x * 10) / 10, y: Math.round(at.y * 10) / 10, turn: 0, scale: 1, flip: false }
}

/** Puts a new part on the work and chooses it. */
export function put(part: Part) {
  editRecipeOnce(withNew(recipeNow(), part))
  buildNow().open(null)
  choose([part.id])
  useView.getState().keepFitted()
}

/** What a lettering beside another one takes from it. */
const settingOf = ({ face, features, size, film, join, spacing_mm, spacing_share }: Lettering) => ({
  face,
  features,
  size,
  film,
  spacing_mm,
  spacing_share,
  ...(join && { join: { ...join, refused: [] } }),
})

export function addLettering() {
  const { x, y } = middleOfView()
  const box = evaluationNow()?.box
  const below = box ? { x: box.x, y: box.y + box.height + 30 } : { x, y }
  const chosen = recipeNow().parts.findLast((p) => p.kind === 'lettering')
  const alike = chosen?.kind === 'lettering' ? settingOf(chosen) : {}
  const part = newPart(recipeNow(), 'lettering', { text: '', ...alike }, { ...middleOfView(), ...below })
  put(part)
  useView.getState().setStage('letter')
}

export function addBacking(of: string) {
  put(newPart(recipeNow(), 'backing', { of }))
}

export function remove(ids: readonly string[]) {
  if (ids.length === 0) return
  const gone = new Set(withInner(recipeNow(), ids))
  const before = freed(recipeNow(), evaluationNow(), (p) => gone.has(p.alignment?.to ?? ''))
  const next = without(before, ids)
  if (buildNow().level !== null && !findPart(next, buildNow().level ?? '')) buildNow().open(null)
  editRecipeOnce(next)
  const left = onLevel(next, buildNow().level).at(-1)
  useSelection.getState().choosePart(left?.id ?? next.parts[0]?.id ?? '')
}

/** Copies parts and lays the copies beside them. */
export function copy(ids: readonly string[]): string[] {
  if (ids.length === 0) return []
  const by = besideNow(ids)
  const { recipe, copies } = copied(recipeNow(), ids, by)
  copies.forEach((id, n) => {
    const box = boxNow(ids[n] ?? '')
    if (box) expected.set(inDesign(id), { ...box, x: box.x + by.x, y: box.y + by.y })
  })
  editRecipeOnce(recipe)
  choose(copies)
  useView.getState().keepFitted()
  return copies
}

/** Where copies will lie that are not evaluated yet, by their design and ids: copying does not wait. */
const expected = new Map<string, Box>()

const inDesign = (id: string) => `${useDesign.getState().id} ${id}`

/** The box around a part as it is now: what was evaluated before it changed says nothing of it. */
function boxNow(id: string): Box | null {
  const evaluation = evaluationNow()
  const part = findPart(recipeNow(), id)
  const box = viewOf(evaluation, id)?.box ?? null
  if (box && evaluation && findPart(evaluation.recipe, id) === part) return box
  return roughBox(part) ?? box ?? expected.get(inDesign(id)) ?? null
}

/** About how large words will be that are not evaluated yet: for a place beside them. */
function roughBox(part: Part | undefined): Box | null {
  if (part?.kind !== 'lettering') return null
  const { measure, mm } = part.size
  const lines = part.text.split('\n')
  const longest = Math.max(...lines.map((line) => line.length), 1)
  const high =
    measure === 'width' ? (1.6 * mm) / longest : measure === 'height' ? mm / lines.length : 1.3 * mm
  const { x, y } = part.place
  return { x, y: y - high, width: 0.7 * high * longest, height: 1.2 * high * lines.length }
}

/** How far copies of parts go, in the level of these, to lie beside them and on nothing else. */
function besideNow(ids: readonly string[]): Spot {
  const recipe = recipeNow()
  const evaluation = evaluationNow()
  const box = boxAround(ids.map(boxNow))
  if (!box) return { x: 6, y: 6 }
  const level = parentOf(recipe, ids[0] ?? '')?.id ?? null
  const others = onLevel(recipe, level).filter(({ id }) => !ids.includes(id))
  const by = beside(
    box,
    others.map(({ id }) => boxNow(id)).filter((other) => other !== null),
  )
  if (!evaluation) return by
  const back = undone(levelOf(recipe, evaluation, ids[0] ?? ''))
  const [from, to] = [onWork(back, box), onWork(back, { x: box.x + by.x, y: box.y + by.y })]
  return { x: to.x - from.x, y: to.y - from.y }
}

/** Another name in the manner of one: all that it is in is copied, and its words are there to be typed. */
export function anotherName(id: string) {
  const recipe = recipeNow()
  const whole = topOf(recipe, id)
  const at = letteringsIn(recipe, whole).findIndex((p) => p.id === id)
  const [made] = copy([whole])
  const names = letteringsIn(recipeNow(), made ?? '')
  const name = names[Math.max(at, 0)]
  if (!name) return
  buildNow().open(null)
  typeWordsOf(name.id)
}

/** Opens the Letter stage at a lettering, with its words chosen, ready to be typed over. */
export function typeWordsOf(id: string) {
  useSelection.getState().choosePart(id)
  useView.getState().setStage('letter')
  askForWords()
}

/** Each line of a lettering becomes a part of its own, where it stands. */
export function splitLines(id: string) {
  onceMeasured((evaluation) => {
    const part = findPart(recipeNow(), id)
    const view = viewOf(evaluation, id)
    if (part?.kind !== 'lettering' || !view?.made) return
    const { recipe, parts } = withLinesApart(recipeNow(), part, view, levelOf(recipeNow(), evaluation, id))
    editRecipeOnce(recipe)
    choose(parts)
  })
}

/** Aligns parts to one of them, which stays. */
export function align(ids: readonly string[], ground: string, edge: AlignEdge) {
  onceMeasured((evaluation) => editRecipeOnce(alignedTo(recipeNow(), evaluation, ids, ground, edge)))
}

/** What a part is aligned to, and at what. */
export function realign(id: string, alignment: Alignment | null, pulled?: Pulled) {
  onceMeasured((evaluation) => editRecipeOnce(realigned(recipeNow(), evaluation, id, alignment, pulled)))
}

/** Where something else is chosen: the words in it, or the first there are. */
export function chooseLettering() {
  const recipe = recipeNow()
  const chosen = selectionNow().part
  if (findPart(recipe, chosen)?.kind === 'lettering') return
  const name = letteringsIn(recipe, chosen)[0] ?? recipe.parts.find((p) => p.kind === 'lettering')
  if (name) useSelection.getState().choosePart(name.id)
}

export function changeGround(id: string, ground: string) {
  const whole = findPart(recipeNow(), id)
  if (whole?.kind === 'combination') editRecipeOnce(withGround(recipeNow(), whole, ground))
}

/** Puts parts together, in the order they were chosen: the first is the ground. */
export function combine(ids: readonly string[], how: Operation, halo?: Halo) {
  buildNow().look(null)
  onceMeasured((evaluation) => {
    if (!ids.every((id) => findPart(recipeNow(), id))) return
    const before = asMembers(recipeNow(), evaluation, ids, how)
    const { recipe, id } = combined(before, ids, how, halo ? { halo } : {})
    if (how === 'edges') return void weldToMet(recipe, id, ids)
    editRecipeOnce(recipe)
    choose([id])
  })
}

/** Welds parts to the edges of their base that they run over; where there are none, edges are pointed at. */
async function weldToMet(recipe: Recipe, id: string, ids: readonly string[]) {
  const [ground = ''] = ids
  const from = recipeNow()
  const told = await api.POST('/api/build/edges', { body: { recipe, part: ground } }).catch(() => null)
  const edges = told?.data?.contours.filter((contour) => contour.met).map((contour) => contour.number) ?? []
  // What was changed meanwhile is not written over, and may have moved them to other edges.
  if (recipeNow() !== from) return combine(ids, 'edges')
  editRecipeOnce(withPart(recipe, id, { edges }))
  choose([id])
  if (edges.length === 0) buildNow().point({ part: ground, for: 'edges' })
}

export function release(id: string) {
  const whole = findPart(recipeNow(), id)
  const now = whole?.kind === 'frame' ? asFitted(recipeNow(), evaluationNow(), whole) : recipeNow()
  const inside = new Set(insideOf(whole))
  const loose = (p: Part) => inside.has(p.id) || p.alignment?.to === id
  const { recipe, members } = released(freed(now, evaluationNow(), loose), id)
  editRecipeOnce(recipe)
  const parent = parentOf(recipe, members[0] ?? '')
  buildNow().open(parent?.id ?? null)
  choose(members)
}

/** Parts as they go into a combination: what they are aligned to stays where it is, and words on a plate keep
 * their middle when they change. */
function asMembers(
  recipe: Recipe,
  evaluation: Evaluation | undefined,
  ids: readonly string[],
  how: Operation,
): Recipe {
  if (!evaluation) return recipe
  const inside = new Set(ids)
  const parted = (p: Part) => p.alignment?.to != null && inside.has(p.id) !== inside.has(p.alignment.to)
  const [ground = ''] = ids
  let next = freed(recipe, evaluation, parted)
  if (how === 'weld' || how === 'divide') return next
  for (const id of ids.slice(1)) {
    const part = findPart(next, id)
    if (part?.kind !== 'lettering' || part.alignment || !canAlign(next, part)) continue
    if (dependsOn(next, ground, id)) continue
    next = realigned(next, evaluation, id, { to: ground, across: 'centre', down: null })
  }
  return next
}

export function bind(ids: readonly string[], together: boolean) {
  editRecipeOnce(bound(recipeNow(), ids, together))
}

export function order(id: string, by: 1 | -1) {
  editRecipeOnce(reordered(recipeNow(), id, by))
}

/** Changes where parts lie by changes made on the work; part of a drag unless said otherwise. */
export function arrange(changes: ReadonlyMap<string, Placement>, from: Recipe = recipeNow()) {
  const evaluation = evaluationNow()
  if (!evaluation || changes.size === 0) return
  useDesign.getState().editRecipe({ parts: arranged(from, evaluation, changes).parts })
}

export function nudge(dx: number, dy: number) {
  arrange(alike(chosenNow(), movedBy(dx, dy)))
}

/** Arranges parts as one step, by the boxes around them, which are in the order they were chosen. */
export function arrangeOnce(
  ids: readonly string[],
  laid: (boxes: readonly Boxed[]) => ReadonlyMap<string, Placement>,
) {
  onceMeasured(() => asOneStep(() => arrange(laid(boxesOf(ids)))))
}

/** Turns parts about the middle of what they make together, or turns them over. */
export function turnTogether(ids: readonly string[], turn: number, flip: boolean) {
  arrangeOnce(ids, (boxes) => {
    const box = boxAround(boxes.map((boxed) => boxed.box))
    if (!box) return new Map()
    return alike(ids, about(box.x + box.width / 2, box.y + box.height / 2, 1, turn, flip))
  })
}

/** The chosen parts with the boxes around them, in the order they were chosen. */
export function boxesOf(ids: readonly string[]): readonly Boxed[] {
  const evaluation = evaluationNow()
  return ids.flatMap((id) => {
    const box = viewOf(evaluation, id)?.box
    return box ? [{ id, box }] : []
  })
}

export const boxOfChosen = () => boxAround(boxesOf(chosenNow()).map((b) => b.box))

/** Chooses the next part of the level, or the one before. */
export function chooseNext(by: 1 | -1) {
  const level = onLevel(recipeNow(), buildNow().level).map((p) => p.id)
  if (level.length === 0) return
  const at = level.indexOf(selectionNow().part)
  choose([level[(at + by + level.length) % level.length] ?? level[0] ?? ''])
}

/** Puts the chosen names, or the design's own, into a frame; a new name where there is none. */
export function frameNames(more: Partial<Frame>, most: number) {
  const recipe = recipeNow()
  const names = namesFor(recipe, chosenNow(), most)
  const at = names[0] ? viewOf(evaluationNow(), names[0].id)?.box : null
  const place = at ? { ...AT_ORIGIN, x: at.x + at.width / 2, y: at.y + at.height / 2 } : middleOfView()
  taken(framed(recipe, names, more, place))
}

/** Makes a part a frame, with a band in its middle. */
export function makeFrame(id: string) {
  onceMeasured((evaluation) => {
    const recipe = recipeNow()
    const ground = findPart(recipe, id)
    const box = viewOf(evaluation, id)?.box
    if (!ground || !box) return
    const names = namesFor(recipe, [], 1)
    taken(madeFrame(recipe, ground, box, names))
  })
}

/** Puts a frame of the shop's own on the work. */
export function takeKept(kept: Recipe, name: string) {
  const frame = kept.parts.find((p) => p.kind === 'frame')
  const most = frame?.kind === 'frame' ? Math.max(1, frame.bands.length) : 1
  taken(withKept(recipeNow(), kept, namesFor(recipeNow(), chosenNow(), most), name))
}

/** Puts a changed recipe on the work. A frame without words asks for them. */
function taken({ recipe, id }: { recipe: Recipe; id: string }) {
  editRecipeOnce(recipe)
  buildNow().pick(null)
  buildNow().open(null)
  choose([id])
  useView.getState().keepFitted()
  const blank = letteringsIn(recipe, id).find(isBlank)
  if (blank) typeWordsOf(blank.id)
}

export function addName(id: string) {
  const frame = findPart(recipeNow(), id)
  if (frame?.kind === 'frame') editRecipeOnce(withName(recipeNow(), frame).recipe)
}

/** Opens what is chosen: a combination to work in, a frame at the words in it. */
export function openChosen(): boolean {
  const part = findPart(recipeNow(), selectionNow().part)
  if (part?.kind === 'frame' && part.members[0]) {
    useSelection.getState().choosePart(part.members[0])
    useView.getState().setStage('letter')
    return true
  }
  if (part?.kind === 'lettering') {
    typeWordsOf(part.id)
    return true
  }
  if (part?.kind !== 'combination') return false
  buildNow().open(part.id)
  choose([part.members.at(-1) ?? ''])
  return true
}

/** Out of the combination that is open; where none is, nothing stays chosen. */
export function stepOut() {
  const { level } = buildNow()
  if (level === null) return choose([])
  buildNow().open(parentOf(recipeNow(), level)?.id ?? null)
  choose([level])
}

/** All ids that go along when parts are dragged. */
export const draggedWith = (ids: readonly string[]) => new Set(withInner(recipeNow(), ids))
