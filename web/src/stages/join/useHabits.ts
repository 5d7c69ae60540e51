import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { answer, api } from '../../shared/api/client'
import type { Habit } from '../../shared/design/habits'
import { useShop } from '../../shared/design/shopDefaults'
import { useFaceList } from '../../shared/faces/useFaces'

const KEY = ['habits']

/** Hears what lettering begins with in this shop, for as long as a design is open. True once that is known, or
 * cannot be: whoever types before would not get it. */
export function useHearShop(): boolean {
  const list = useFaceList()
  const faces = list.data
  const habits = useQuery({ queryKey: KEY, queryFn: () => answer(api.GET('/api/habits')) })
  const { data } = habits
  useEffect(() => {
    if (data) useShop.setState({ habits: data })
  }, [data])
  useEffect(() => {
    const scripts = faces?.filter(({ written }) => written).map(({ slug }) => slug)
    useShop.setState({ scripts: new Set(scripts) })
  }, [faces])
  return [list, habits].every(({ isFetched, failureCount }) => isFetched || failureCount > 0)
}

/** Keeps a habit for all new designs, and takes one back. */
export function useKeepHabits() {
  const queries = useQueryClient()
  const onSuccess = () => queries.invalidateQueries({ queryKey: KEY })
  const keep = useMutation({
    mutationFn: (habit: Habit) => answer(api.PUT('/api/habits', { body: { habit } })),
    onSuccess,
  })
  const forget = useMutation({
    mutationFn: ({ family, letters }: Habit) =>
      answer(api.DELETE('/api/habits', { params: { query: { family, letters } } })),
    onSuccess,
  })
  return { keep, forget }
}
