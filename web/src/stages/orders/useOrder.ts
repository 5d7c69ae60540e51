// An order from the server, its rows as they come, and what is done to both.

import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useParams } from 'react-router'
import { answer, api, asProblem, type Problem } from '../../shared/api/client'
import { merged, type Order, type OrderPlan, type Rows, type RowsTold, type Sheets } from './order'

const WORKING_MS = 250
/** Another window may have changed it. */
const QUIET_MS = 4_000

export const useOrderId = () => useParams().id ?? ''

const keyOf = (id: string) => ['order', id] as const
const rowsKey = (id: string) => ['order-rows', id] as const
const sheetsKey = (id: string) => ['order-sheets', id] as const

export function useOrderQuery() {
  const id = useOrderId()
  return useQuery({
    queryKey: keyOf(id),
    queryFn: () => answer(api.GET('/api/orders/{order_id}', { params: { path: { order_id: id } } })),
    staleTime: 0,
  })
}

/** The order that is open. It is there: nothing of the stage is shown before. */
export function useOrder(): Order {
  const { data } = useOrderQuery()
  if (!data) throw new Error('no order is open')
  return data
}

const NONE: Rows = {
  change: -1,
  edit: 0,
  counts: {
    rows: 0,
    waiting: 0,
    as_designed: 0,
    gave_way: 0,
    cannot_be_made: 0,
    empty: 0,
    look_again: 0,
  },
  working: false,
  stopped: false,
  workers: 0,
  rows: [],
}

/** All rows, as they are worked out. */
export function useRows(): Rows {
  const id = useOrderId()
  const queries = useQueryClient()
  const { data } = useQuery({
    queryKey: rowsKey(id),
    queryFn: async () => {
      const before = queries.getQueryData<Rows>(rowsKey(id))
      const params = { path: { order_id: id }, query: { since: before?.change ?? -1 } }
      const news = await answer(api.GET('/api/orders/{order_id}/rows', { params }))
      // Another window has changed what is asked for.
      const known = queries.getQueryData<Order>(keyOf(id))
      if (known && known.edit !== news.edit) void queries.invalidateQueries({ queryKey: keyOf(id) })
      return merged(queries.getQueryData<Rows>(rowsKey(id)), news)
    },
    staleTime: 0,
    structuralSharing: false,
    refetchInterval: ({ state }) => (state.data?.working && !state.data.stopped ? WORKING_MS : QUIET_MS),
  })
  return data ?? NONE
}

/** What is done to rows: each answers with the rows that have changed by it. */
export function useRowChanges() {
  const id = useOrderId()
  const queries = useQueryClient()
  const take = useMutation({
    mutationFn: (call: (id: string) => Promise<RowsTold>) => call(id),
    onSuccess: (told) => {
      queries.setQueryData<Rows>(rowsKey(id), (before) => merged(before, told, false))
      void queries.invalidateQueries({ queryKey: rowsKey(id) })
      void queries.invalidateQueries({ queryKey: sheetsKey(id) })
    },
    onError: () => queries.invalidateQueries({ queryKey: rowsKey(id) }),
  })
  const of = (id: string) => ({ order_id: id })
  const path = (id: string, number: number) => ({ path: { ...of(id), number } })
  const { mutate } = take
  return {
    busy: take.isPending,
    problem: problemOf(take.error),
    add: (rows: Record<string, string>[], done?: () => void) =>
      mutate(
        (id) => answer(api.POST('/api/orders/{order_id}/rows', { params: { path: of(id) }, body: { rows } })),
        done ? { onSuccess: done } : {},
      ),
    change: (number: number, values: Record<string, string>, based_on: number) =>
      mutate((id) =>
        answer(
          api.PUT('/api/orders/{order_id}/rows/{number}', {
            params: path(id, number),
            body: { values, based_on },
          }),
        ),
      ),
    remove: (numbers: number[], done?: () => void) =>
      mutate(
        (id) =>
          answer(
            api.POST('/api/orders/{order_id}/rows/remove', {
              params: { path: of(id) },
              body: { numbers },
            }),
          ),
        done ? { onSuccess: done } : {},
      ),
    putBack: (numbers: number[]) =>
      mutate((id) =>
        answer(
          api.POST('/api/orders/{order_id}/rows/restore', { params: { path: of(id) }, body: { numbers } }),
        ),
      ),
    looked: (numbers: number[]) =>
      mutate((id) =>
        answer(
          api.POST('/api/orders/{order_id}/rows/looked', { params: { path: of(id) }, body: { numbers } }),
        ),
      ),
    letGo: (number: number) =>
      mutate((id) =>
        answer(api.DELETE('/api/orders/{order_id}/rows/{number}/by-hand', { params: path(id, number) })),
      ),
    stop: (stopped: boolean) =>
      mutate((id) =>
        answer(api.POST('/api/orders/{order_id}/stop', { params: { path: of(id) }, body: { stopped } })),
      ),
  }
}

type Asked = Partial<Pick<Order, 'name' | 'customer' | 'due' | 'stage' | 'plan'>>
/** A change of the order as it is when its turn comes: two quick ones are both kept. */
type Change = Asked | ((now: Order) => Asked)

/** Changes what an order asks for. */
export function useSaveOrder() {
  const id = useOrderId()
  const queries = useQueryClient()
  const saving = useMutation({
    mutationFn: async (change: Change) => {
      const now = queries.getQueryData<Order>(keyOf(id))
      if (!now) throw new Error('no order is open')
      const asked = typeof change === 'function' ? change(now) : change
      const { name, customer, due, stage, plan } = { ...now, ...asked }
      const body = { name, customer, due, stage, plan, based_on: now.edit }
      return answer(api.PUT('/api/orders/{order_id}', { params: { path: { order_id: id } }, body }))
    },
    // One after the other: each is based on the one before.
    scope: { id: `order ${id}` },
    onSuccess: (order) => {
      queries.setQueryData(keyOf(id), order)
      void queries.invalidateQueries({ queryKey: rowsKey(id) })
      void queries.invalidateQueries({ queryKey: sheetsKey(id) })
    },
    onError: () => queries.invalidateQueries({ queryKey: keyOf(id) }),
  })
  return { save: saving.mutate, busy: saving.isPending, problem: problemOf(saving.error) }
}

/** Changes the plan of an order. */
export function usePlan() {
  const { plan } = useOrder()
  const { save } = useSaveOrder()
  const changeBy = (change: (plan: OrderPlan) => Partial<OrderPlan>) =>
    save(({ plan }) => ({ plan: { ...plan, ...change(plan) } }))
  return { plan, changeBy, change: (change: Partial<OrderPlan>) => changeBy(() => change) }
}

/** The sheets of the order; only while they are looked at. */
export function useOrderSheets(isMoving: (sheets: Sheets) => boolean = () => false) {
  const id = useOrderId()
  const { edit } = useOrder()
  const { working, change } = useRows()
  const query = useQuery({
    // Of what is asked for, and of the rows, as they are now.
    queryKey: [...sheetsKey(id), edit, change],
    queryFn: ({ signal }) => answer(api.POST('/api/orders/sheets', { body: { order: id }, signal })),
    enabled: !working,
    placeholderData: keepPreviousData,
    staleTime: 0,
    refetchInterval: ({ state }) => (state.data && isMoving(state.data) ? 700 : false),
  })
  const waiting = query.isPending || query.isPlaceholderData
  return { sheets: query.data, waiting, problem: problemOf(query.error) }
}

/** Has the sheets laid anew. */
export function useSheetsAnew() {
  const id = useOrderId()
  const queries = useQueryClient()
  return () => {
    void queries.invalidateQueries({ queryKey: sheetsKey(id) })
    void queries.invalidateQueries({ queryKey: keyOf(id) })
  }
}

export const problemOf = (error: unknown): Problem | null => (error ? asProblem(error) : null)
