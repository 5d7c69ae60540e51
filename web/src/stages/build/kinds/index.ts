// All kinds of parts in the Build stage: a file and a row each.

import type { Part } from '../../../shared/design/recipe'
import { ARTWORK } from './artwork'
import { BACKING } from './backing'
import { COMBINATION } from './combination'
import { FRAME } from './frame'
import type { PartKind } from './kind'
import { LETTERING } from './lettering'
import { LINE } from './line'
import { ORNAMENT } from './ornament'
import { SHAPE } from './shape'

type Kinds = { [K in Part['kind']]: PartKind<Extract<Part, { kind: K }>> }

/** In the order in which they are offered. */
export const KINDS: Kinds = {
  lettering: LETTERING,
  frame: FRAME,
  shape: SHAPE,
  line: LINE,
  ornament: ORNAMENT,
  artwork: ARTWORK,
  backing: BACKING,
  combination: COMBINATION,
}

/** The kind of a part. */
export const kindOf = (part: Part) => KINDS[part.kind] as PartKind<Part>
