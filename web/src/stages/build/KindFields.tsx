import { memo } from 'react'
import type { Part } from '../../shared/design/recipe'
import { kindOf } from './kinds'
import { showsTheSame } from './parts'

/** What can be changed of a part, by its kind. */
export const KindFields = memo(function KindFields({ part }: { part: Part }) {
  const { Fields } = kindOf(part)
  return <Fields part={part} />
}, showsTheSame)
