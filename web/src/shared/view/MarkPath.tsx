import type { Schemas } from '../api/client'
import { USE_INKS } from '../theme'

type Mark = Schemas['MarkOut']

const DASHES: Partial<Record<Mark['use'], string>> = { score: '7 4', guide: '1.5 4' }

/** What is not cut: an engraved area, or a line, in the ink of its use. */
export function MarkPath({ mark }: { mark: Mark }) {
  const ink = USE_INKS[mark.use]
  if (mark.use === 'engrave')
    return (
      <path
        d={mark.d}
        fill={ink}
        fillOpacity="0.55"
        stroke={ink}
        strokeWidth="1"
        vectorEffect="non-scaling-stroke"
        data-use={mark.use}
      />
    )
  return (
    <path
      d={mark.d}
      fill="none"
      stroke={ink}
      strokeWidth="1.75"
      strokeLinecap="round"
      strokeDasharray={DASHES[mark.use]}
      vectorEffect="non-scaling-stroke"
      data-use={mark.use}
    />
  )
}
