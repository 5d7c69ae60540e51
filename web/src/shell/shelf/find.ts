// Which designs of the shelf are shown, and in which order.

import type { Schemas } from '../../shared/api/client'
import { plainly } from '../../shared/design/plainly'

export type Card = Schemas['Card']

export const ORDERS = [
  { value: 'changed', label: 'Changed last' },
  { value: 'name', label: 'By name' },
  { value: 'size', label: 'Largest first' },
] as const
export type Order = (typeof ORDERS)[number]['value']

const BY: Record<Order, (a: Card, b: Card) => number> = {
  changed: (a, b) => b.changed.localeCompare(a.changed),
  name: (a, b) => a.name.localeCompare(b.name, undefined, { numeric: true, sensitivity: 'base' }),
  size: (a, b) => area(b) - area(a),
}

const area = (card: Card) => (card.width_mm ?? 0) * (card.height_mm ?? 0)

/** The designs of which every typed word is in their name, their words, their faces or their tags; and, where
 * one is chosen, that have the tag. */
export function found(cards: readonly Card[], typed: string, tag: string | null, order: Order): Card[] {
  const wanted = plainly(typed).split(/\s+/).filter(Boolean)
  return cards
    .filter((card) => tag === null || card.tags.includes(tag))
    .filter((card) => {
      const all = plainly([card.name, ...card.words, ...card.faces, ...card.tags].join('\n'))
      return wanted.every((word) => all.includes(word))
    })
    .toSorted(BY[order])
}

/** All tags in use, by name. */
export const tagsOf = (cards: readonly Card[]): string[] =>
  [...new Set(cards.flatMap((card) => card.tags))].toSorted((a, b) => a.localeCompare(b))
