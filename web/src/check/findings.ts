// What the check finds, asked for after the outline is there; and which finding is looked at.

import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { create } from 'zustand'
import { answer, api, type Schemas } from '../api/client'
import type { Recipe } from '../design/recipe'
import { useSettled } from '../design/settled'

export type Findings = Schemas['FindingsOut']
export type Finding = Schemas['FindingOut']

const QUIET_MS = 250

/** The findings of a recipe once the maker pauses; those of an earlier one until then. */
export function useFindings(newest: Recipe, ready: boolean): Findings | undefined {
  const recipe = useSettled(newest, QUIET_MS)
  const query = useQuery({
    queryKey: ['findings', recipe],
    queryFn: ({ signal }) => answer(api.POST('/api/findings', { body: { recipe }, signal })),
    placeholderData: keepPreviousData,
    enabled: ready,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 30_000,
  })
  return ready ? query.data : undefined
}

/** How many are to be repaired, to be looked at, and accepted. */
export function tally({ findings, lost }: Findings) {
  const open = findings.filter((f) => !f.accepted)
  const repair = open.filter((f) => f.blocks).length
  return { repair, look: open.length - repair + lost.length, known: findings.length - open.length }
}

/** A finding told again after a change of the recipe: by what it is and where. */
export const findingKey = (f: Finding) =>
  `${f.kind} ${f.part} ${f.known.at.letter} ${f.known.at.x.toFixed(3)} ${f.known.at.y.toFixed(3)}`

interface CheckState {
  /** The finding that is looked at. */
  chosen: string | null
  choose: (key: string | null) => void
}

export const useCheck = create<CheckState>()((set) => ({
  chosen: null,
  choose: (chosen) => set({ chosen }),
}))

/** The part of the work that shows a finding large. */
export function around({ box }: Finding, sizeMm: number) {
  const width = Math.max(box.width * 2.2, box.height * 2.2, sizeMm * 0.5)
  return {
    x: box.x + box.width / 2 - width / 2,
    y: box.y + box.height / 2 - width / 2,
    width,
    height: width,
  }
}
