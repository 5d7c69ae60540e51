// A glance at another recipe: how the face sets the letters, or how the work is without what makes it ready, while a
// key or button is held, and what a way to join would do, before it is chosen. Nothing of it is part of the design.

import { useQuery } from '@tanstack/react-query'
import { create } from 'zustand'
import type { LetterChange, SeamAfter } from '../design/letters'
import { changeOf, NO_SEAM, withLetters } from '../design/letters'
import { joinOf, type Lettering, letteringOf, type Recipe } from '../design/recipe'
import { selectionNow } from '../design/selection'
import { useDesign } from '../design/store'
import { evaluationOf } from '../evaluation/driver'
import type { Evaluation } from '../evaluation/evaluation'

type Way = NonNullable<SeamAfter['way']>
type Comparison =
  | { kind: 'before' }
  | { kind: 'as-made' }
  | { kind: 'way'; left: number; way: Way | null }
  | { kind: 'version'; recipe: Recipe }

export const useGlance = create<{ glance: Comparison | null }>()(() => ({ glance: null }))

export const glanceAt = (glance: Comparison | null) => useGlance.setState({ glance })

const MOVES = ['dx', 'dy', 'carry', 'after'] as const satisfies readonly (keyof LetterChange)[]

/** A part as its face sets it: nothing joined, no letter moved by hand. */
export function asSet(part: Lettering): Lettering {
  const ids = Object.keys(part.letters ?? {}).map(Number)
  const still = Object.fromEntries(MOVES.map((move) => [move, 0]))
  const freed = withLetters(part, ids, () => ({ ...still, seam: NO_SEAM }))
  return { ...part, ...freed, join: { ...joinOf(part.join), how: 'set', tie: false } }
}

/** A part with one seam decided otherwise. */
export function withWay(part: Lettering, left: number, way: Way | null): Lettering {
  return { ...part, ...withLetters(part, [left], (now) => ({ seam: { ...now.seam, way } })) }
}

function glimpsed(recipe: Recipe, part: string, glance: Comparison): Recipe {
  if (glance.kind === 'as-made') return { ...recipe, ready: null }
  if (glance.kind === 'version') return glance.recipe
  const change = (p: Lettering) => (glance.kind === 'before' ? asSet(p) : withWay(p, glance.left, glance.way))
  return {
    ...recipe,
    parts: recipe.parts.map((p) => (p.id === part && p.kind === 'lettering' ? change(p) : p)),
  }
}

/** What is glanced at, once it is known; null where nothing is. */
export function useGlimpse(): { kind: Comparison['kind']; evaluation: Evaluation } | null {
  const glance = useGlance((s) => s.glance)
  const recipe = useDesign((s) => s.recipe)
  const part = selectionNow().part
  const now = letteringOf(recipe, part)
  const isChosen =
    glance?.kind === 'way' &&
    now !== undefined &&
    (changeOf(now, glance.left).seam?.way ?? null) === glance.way
  const asked = glance !== null && !isChosen
  const query = useQuery({
    // A whole recipe takes long to hash: not while nothing is glanced at.
    queryKey: asked ? ['glance', recipe, part, glance] : ['glance'],
    queryFn: async ({ signal }) => {
      if (!glance) throw new Error('there is a glance when this is asked')
      return (await evaluationOf(glimpsed(recipe, part, glance), signal)).evaluation
    },
    enabled: asked,
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 30_000,
  })
  return asked && query.data ? { kind: glance.kind, evaluation: query.data } : null
}
