import { Frame as FrameIcon } from 'lucide-react'
import type { Frame } from '../../../shared/design/recipe'
import { FrameFields } from '../FrameFields'
import { useBuild } from '../store'
import type { PartKind } from './kind'

export const FRAME: PartKind<Frame> = {
  Fields: FrameFields,
  add: { label: 'Frame', Icon: FrameIcon, run: () => useBuild.getState().pick('frames') },
}
