import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { answer, api } from '../api/client'
import { type Habit, useShopHabits } from '../design/habits'

const KEY = ['habits']

/** Hears what the shop always does, for as long as a design is open. */
export function useHearHabits() {
  const { data } = useQuery({ queryKey: KEY, queryFn: () => answer(api.GET('/api/habits')) })
  useEffect(() => {
    if (data) useShopHabits.setState({ habits: data })
  }, [data])
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
