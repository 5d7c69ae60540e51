import { useMutation } from '@tanstack/react-query'
import { answer, api, asProblem } from '../api/client'
import { idsOf } from '../design/letters'
import type { Bar } from '../design/recipe'
import { endStep, partNow, useDesign } from '../design/store'
import { useTools } from './tools'

interface Spot {
  x: number
  y: number
}

/** Lays a bridge between two places of the work, or lays one anew; its ends snap to the nearest strokes. */
export function useLayBar() {
  const mutation = useMutation({
    mutationFn: ({ start, end, bar }: { start: Spot; end: Spot; bar?: Bar }) => {
      const { recipe, partId } = useDesign.getState()
      const measures = { width_mm: bar?.width_mm ?? null, bulge: bar?.bulge ?? 0 }
      return answer(api.POST('/api/bars/lay', { body: { recipe, part: partId, start, end, ...measures } }))
    },
    onSuccess: (laid) => {
      const { bar } = useTools.getState()
      const bars = partNow().bars ?? []
      endStep()
      if (bar === null) withBars([...bars, laid])
      else withBars(bars.map((known, n) => (n === bar ? laid : known)))
      if (bar === null) useTools.getState().chooseBar(bars.length)
    },
  })
  return { lay: mutation.mutate, problem: mutation.error ? asProblem(mutation.error) : null }
}

/** The part with these bridges; letters they hold by have ids that stay. */
export function withBars(bars: Bar[]) {
  useDesign.getState().edit({ bars, letter_ids: idsOf(partNow()) })
}

/** Changes one bridge. */
export function changeBar(number: number, change: Partial<Bar>) {
  withBars((partNow().bars ?? []).map((bar, n) => (n === number ? { ...bar, ...change } : bar)))
}
