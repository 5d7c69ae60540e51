// What of an order is looked at: the view, the chosen row or sheet, and which rows are shown.

import { create } from 'zustand'
import type { Shown, Sorted } from './order'

export type View = 'names' | 'sheets' | 'picks'

interface OrderView {
  view: View
  /** The number of the chosen row. */
  row: number | null
  /** The number of the sheet that is looked at. */
  sheet: number | null
  shown: Shown
  sorted: Sorted
  typed: string
  /** The number of the row that was taken out last. */
  removed: number | null
}

const FRESH: OrderView = {
  view: 'names',
  row: null,
  sheet: null,
  shown: 'all',
  sorted: 'list',
  typed: '',
  removed: null,
}

export const useOrderView = create<OrderView>()(() => FRESH)

export const look = (change: Partial<OrderView>) => useOrderView.setState(change)

/** As an order is first seen. */
export const lookAnew = () => useOrderView.setState(FRESH)
