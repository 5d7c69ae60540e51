// Which of several parts the others are laid on.

import type { Evaluation } from '../../shared/evaluation/evaluation'
import { viewOf } from './levels'

/** The part that was said to be the base, else the largest of all. */
export function groundOf(
  evaluation: Evaluation | undefined,
  ids: readonly string[],
  wanted: string | null,
): string {
  if (wanted !== null && ids.includes(wanted)) return wanted
  const room = (id: string) => {
    const box = viewOf(evaluation, id)?.box
    return box ? box.width * box.height : 0
  }
  return ids.reduce((largest, id) => (room(id) > room(largest) ? id : largest), ids[0] ?? '')
}
