// What the recipe's model says: defaults, limits of numbers, and how many of a thing it holds. It is written with the
// API's types (model.json), so that nothing of it is said again here.

import type { Schemas } from './client'
import model from './model.json'

type Defaults = typeof model.defaults
type Known = keyof Defaults & keyof Schemas
type Limited = typeof model.limits
type Counted = typeof model.most

/** The fields of a value as they are when nothing is said. */
export const defaultsOf = <T extends Known>(type: T) =>
  model.defaults[type] as unknown as Pick<Schemas[T], keyof Defaults[T] & keyof Schemas[T]>

/** The defaults of each kind of part. */
export const PART_DEFAULTS = model.parts

/** The least and the most that a number can be. */
export const limitsOf = <T extends keyof Limited>(type: T, field: keyof Limited[T]) =>
  model.limits[type][field] as { min: number; max: number }

/** How many items a row holds at most. */
export const mostOf = <T extends keyof Counted>(type: T, field: keyof Counted[T]) =>
  model.most[type][field] as number
