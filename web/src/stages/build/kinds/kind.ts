import type { LucideIcon } from 'lucide-react'
import type { FC } from 'react'

/** A kind of part in the Build stage. */
export interface PartKind<P> {
  /** What of it can be changed in the panel. */
  Fields: FC<{ part: P }>
  /** How one is added to the work, where that is a choice of its own. */
  add?: { label: string; Icon: LucideIcon; run: () => void }
}
