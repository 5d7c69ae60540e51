// What lettering begins with: written letters are joined from the first key, as the shop's hand always joins them.

import { create } from 'zustand'
import { type Habit, habitsOf, MOST_HABITS } from './habits'
import {
  type FaceOut,
  isBlank,
  type JoinOptions,
  joinOf,
  type Lettering,
  type Part,
  type Recipe,
} from './recipe'

interface Shop {
  /** What the shop always does to letters and pairs of letters of a face. */
  habits: readonly Habit[]
  /** The families that are written, as a hand does. */
  scripts: ReadonlySet<string>
}

/** What is known of the shop, as the server has told it. */
export const useShop = create<Shop>()(() => ({ habits: [], scripts: new Set() }))

/** A face is new on the list. */
export function hearFace(face: FaceOut): void {
  const { scripts } = useShop.getState()
  if (face.written) useShop.setState({ scripts: new Set([...scripts, face.slug]) })
}

/** The recipe after a change: lettering that was empty, or has another face now, begins as it is done in this
 * shop. */
export function withShopDefaults(before: Recipe, after: Recipe): Recipe {
  if (before.parts === after.parts) return after
  const known = new Map(before.parts.map((part) => [part.id, part]))
  const begun = (part: Part): Part =>
    part.kind === 'lettering' && !isBlank(part) && known.get(part.id) !== part
      ? letteringAsBegun(known.get(part.id), part)
      : part
  return { ...after, parts: after.parts.map(begun) }
}

function letteringAsBegun(was: Part | undefined, part: Lettering): Lettering {
  const begins = was !== undefined && isBlank(was)
  const isOther = was?.kind === 'lettering' && was.face.family !== part.face.family
  const isNew = was === undefined && habitsOf(part).length === 0
  const joined = begins || isOther ? joinAsBegun(was, part, begins) : part
  return begins || isOther || isNew ? withHabitsOf(joined) : joined
}

/** Written letters are joined, and no longer so in a face that is none; between two of a kind nothing changes. */
function joinAsBegun(was: Part | undefined, part: Lettering, begins: boolean): Lettering {
  const { scripts } = useShop.getState()
  const isWritten = scripts.has(part.face.family)
  const wasWritten = !begins && was?.kind === 'lettering' && scripts.has(was.face.family)
  const how: JoinOptions['how'] = isWritten ? 'auto' : 'set'
  return isWritten === wasWritten || joinOf(part.join).how === how
    ? part
    : { ...part, join: { ...joinOf(part.join), how } }
}

function withHabitsOf(part: Lettering): Lettering {
  const suits = useShop.getState().habits.filter((habit) => habit.family === part.face.family)
  const others = habitsOf(part).filter((habit) => habit.family !== part.face.family)
  return suits.length + habitsOf(part).length > 0
    ? { ...part, habits: [...others, ...suits].slice(-MOST_HABITS) }
    : part
}
