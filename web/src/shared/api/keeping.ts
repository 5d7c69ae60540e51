import type { QueryClient } from '@tanstack/react-query'

/** What is kept in the shop, such as a machine's profile: changes of it are sent one after the other. */
export const KEEPING = ['keeping']

/** Whether a change that was sent is the last one under way: its answer is what there is now. */
export const isLastOne = (queries: QueryClient) => queries.isMutating({ mutationKey: KEEPING }) <= 1

/** Waits until all is kept that was changed: files are made of what is on the screen. */
export function whenKept(queries: QueryClient): Promise<void> {
  const done = () => queries.isMutating({ mutationKey: KEEPING }) === 0
  if (done()) return Promise.resolve()
  return new Promise((resolve) => {
    const stop = queries.getMutationCache().subscribe(() => {
      if (!done()) return
      stop()
      resolve()
    })
  })
}
