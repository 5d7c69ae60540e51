// What a recipe comes to, put together from what the server sends by key: outlines, parts and letters' forms
// that are known already are not sent again.

import { replaceEqualDeep } from '@tanstack/react-query'
import type { Problem, Schemas } from '../api/client'
import type { Recipe, Use } from '../design/recipe'

export type Piece = Schemas['PieceOut']
export type Seam = Schemas['SeamOut']
export type Bridge = Schemas['BridgeOut']
export type Placement = Schemas['Placement']

export interface Box {
  x: number
  y: number
  width: number
  height: number
}

export interface Cluster {
  key: string
  pieces: Piece[]
}

export interface Film {
  colour: string
  clusters: Cluster[]
}

/** A letter before the weld: its form, drawn in thousandths of the size, and where that lies in its part. */
export interface Letter extends Omit<Schemas['LetterOut'], 'form' | 'box'> {
  part: string
  d: string
  /** The box around it on the work. */
  box: Box
}

export interface Part {
  id: string
  /** The combination it is a member of. */
  within: string | null
  /** Whether it is shown and cut, by itself or in its combination. */
  shown: boolean
  film: string
  use: Use
  /** What of it is not cut, in its own frame. */
  marks: Schemas['MarkOut'][]
  /** Where it lies on the work, also when it is in a combination. */
  place: Placement
  /** The box around it on the work. */
  box: Box | null
  made: Schemas['BuiltPartOut'] | null
  letters: Letter[]
  /** The face's size on the work. */
  size_mm: number
  problem: Schemas['ProblemOut'] | null
}

export interface Evaluation {
  /** The recipe it is of. */
  recipe: Recipe
  /** What the design goes by until it has a name. */
  called: string
  box: Box
  films: Film[]
  parts: Part[]
  letters: Letter[]
  bridges: Bridge[]
  cut_length_mm: number
  nodes: number
  loose_marks: number
  /** What was asked for and is not so, of a part or of the whole recipe. */
  unmet: Schemas['UnmetOut'][]
}

/** Seams by their part. */
export type Measured = ReadonlyMap<string, Seam[]>

/** What stands in the way, of one part or of all. */
export interface Trouble {
  part: string | null
  problem: Problem
}

const MOST_HELD = 240

/** What the browser holds by key, the least used first. */
export class Held {
  private readonly things = new Map<string, unknown>()

  keys(): string[] {
    return [...this.things.keys()]
  }

  put(key: string, thing: unknown) {
    this.things.delete(key)
    this.things.set(key, thing)
  }

  /** A thing by its key; it counts as used. */
  take<T>(key: string): T | undefined {
    const thing = this.things.get(key)
    if (thing !== undefined) this.put(key, thing)
    return thing as T | undefined
  }

  /** Lets go of what was used longest ago; what an evaluation needs was used just now. */
  trim(needed: number) {
    const most = Math.max(MOST_HELD, needed)
    for (const key of this.things.keys()) {
      if (this.things.size <= most) return
      this.things.delete(key)
    }
  }
}

/** Takes in what is new of an answer, and puts the evaluation together; null where something is missing that
 * the server was told is here. Parts that are as `before` stay the same objects, so they are not drawn again. */
export function assembled(
  recipe: Recipe,
  told: Schemas['EvaluationOut'],
  held: Held,
  before: readonly Part[] = [],
): Evaluation | null {
  for (const cluster of told.clusters) held.put(cluster.key, cluster)
  for (const made of told.built) held.put(made.key, made)
  for (const marks of told.marks) held.put(marks.key, marks)
  for (const form of told.forms) held.put(form.key, form.d)
  let needed = 0
  let missing = false
  function get<T>(key: string): T | undefined {
    needed++
    const thing = held.take<T>(key)
    if (thing === undefined) missing = true
    return thing
  }
  const films = told.films.map(({ colour, clusters }) => ({
    colour,
    clusters: clusters.map((key) => get<Cluster>(key)).filter((c) => c !== undefined),
  }))
  const now = told.parts.map(
    ({ id, within, shown, film, use, marks, place, box, built: key, problem }): Part => {
      const made = (key === null ? null : get<Schemas['BuiltPartOut']>(key)) ?? null
      const letters = (made?.letters ?? []).map(
        ({ form, box: inPart, ...letter }): Letter => ({
          ...letter,
          part: id,
          d: get<string>(form) ?? '',
          box: boxOn(place, inPart),
        }),
      )
      return {
        id,
        within,
        shown,
        film,
        use,
        marks: (marks === null ? null : get<Schemas['MarksOut']>(marks))?.marks ?? [],
        place,
        box,
        made,
        letters,
        size_mm: (made?.size_mm ?? 0) * place.scale,
        problem,
      }
    },
  )
  held.trim(needed)
  if (missing) return null
  const parts = replaceEqualDeep(before, now)
  const { display_name: called, box, bridges, cut_length_mm, nodes, loose_marks, unmet } = told
  const letters = parts.filter((part) => part.shown).flatMap((part) => part.letters)
  return { recipe, called, box, films, parts, letters, bridges, cut_length_mm, nodes, loose_marks, unmet }
}

/** All pieces of an evaluation, film by film. */
export const piecesOf = (evaluation: Evaluation | undefined): Piece[] =>
  evaluation?.films.flatMap((film) => film.clusters.flatMap((cluster) => cluster.pieces)) ?? []

/** The outline of a film as one path. */
export const outlineOf = (film: Film) =>
  film.clusters.flatMap((cluster) => cluster.pieces.map((piece) => piece.d)).join('')

/** A placement as SVG says it: flipped first, then scaled, turned and moved. */
export function transformOf({ x, y, turn, scale, flip }: Placement): string {
  const turned = turn === 0 ? '' : ` rotate(${turn})`
  const scaled = scale === 1 && !flip ? '' : ` scale(${flip ? -scale : scale} ${scale})`
  return `translate(${x} ${y})${turned}${scaled}`
}

/** A placement in the frame in which `outer` lies. */
export function placedWithin(inner: Placement, outer: Placement): Placement {
  const at = onWork(outer, inner)
  const turn = ((((outer.flip ? outer.turn - inner.turn : outer.turn + inner.turn) % 360) + 540) % 360) - 180
  return { ...at, turn, scale: outer.scale * inner.scale, flip: outer.flip !== inner.flip }
}

/** The placement that undoes another. */
export function undone(place: Placement): Placement {
  const turn = place.flip ? place.turn : -place.turn
  const back = { x: 0, y: 0, turn, scale: 1 / place.scale, flip: place.flip }
  const { x, y } = onWork(back, place)
  return { ...back, x: -x, y: -y }
}

/** A place in the frame of a part that lies there, as one on the work. */
export function onWork({ x, y, turn, scale, flip }: Placement, at: { x: number; y: number }) {
  const angle = (turn * Math.PI) / 180
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
  const across = flip ? -at.x : at.x
  return { x: x + scale * (across * cos - at.y * sin), y: y + scale * (across * sin + at.y * cos) }
}

/** A place on the work as one in the frame of a part that lies there. */
export function backOn({ x, y, turn, scale, flip }: Placement, at: { x: number; y: number }) {
  const angle = (-turn * Math.PI) / 180
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
  const [dx, dy] = [at.x - x, at.y - y]
  const across = (dx * cos - dy * sin) / scale
  return { x: flip ? -across : across, y: (dx * sin + dy * cos) / scale }
}

/** Units of a form to the size. */
const FORM_UNITS = 1000

/** Where a letter's form lies on the work, moved by millimetres in its part's frame, turned about its middle
 * and made larger about its origin. */
export function letterTransform(part: Part, letter: Letter, by: Shift = NO_SHIFT): string {
  const size = part.made?.size_mm ?? 0
  const scale = (size / FORM_UNITS) * by.scale
  const moved = `translate(${letter.x + by.dx} ${letter.y + by.dy})`
  const stands = letter.turn === 0 ? '' : ` rotate(${letter.turn})`
  const turned = by.turn === 0 ? '' : ` rotate(${by.turn} ${by.middle.x} ${by.middle.y})`
  return `${transformOf(part.place)} ${moved}${stands}${turned} scale(${scale})`
}

/** A place in a part's frame as one from a letter's origin, in the letter's own directions. */
export function fromLetter(letter: Pick<Letter, 'x' | 'y' | 'turn'>, at: { x: number; y: number }) {
  return backOn({ x: letter.x, y: letter.y, turn: letter.turn, scale: 1, flip: false }, at)
}

/** A move in a letter's own directions, as one in its part's frame. */
export function alongLetter(letter: Pick<Letter, 'turn'>, dx: number, dy: number) {
  const { x, y } = onWork({ x: 0, y: 0, turn: letter.turn, scale: 1, flip: false }, { x: dx, y: dy })
  return { dx: x, dy: y }
}

/** How a letter is moved before the weld has followed; middle is what it is turned about, from its origin. */
export interface Shift {
  dx: number
  dy: number
  turn: number
  scale: number
  middle: { x: number; y: number }
}

export const NO_SHIFT: Shift = { dx: 0, dy: 0, turn: 0, scale: 1, middle: { x: 0, y: 0 } }

/** The box on the work around a box of a part. */
export function boxOn({ x, y, turn, scale, flip }: Placement, box: Box): Box {
  const side = flip ? -scale : scale
  if (turn === 0) {
    const left = x + Math.min(box.x * side, (box.x + box.width) * side)
    return { x: left, y: y + box.y * scale, width: box.width * scale, height: box.height * scale }
  }
  const angle = (turn * Math.PI) / 180
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
  const corners = [box.x, box.x + box.width].flatMap((px) =>
    [box.y, box.y + box.height].map((py) => ({
      x: x + px * side * cos - py * scale * sin,
      y: y + px * side * sin + py * scale * cos,
    })),
  )
  const [xs, ys] = [corners.map((c) => c.x), corners.map((c) => c.y)]
  const [left, top] = [Math.min(...xs), Math.min(...ys)]
  return { x: left, y: top, width: Math.max(...xs) - left, height: Math.max(...ys) - top }
}
