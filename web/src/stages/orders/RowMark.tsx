import { FindingMark } from '../../shared/fields/FindingMark'
import type { Row } from './order'

const SAYS: Record<Row['state'], string> = {
  '': 'Being worked out',
  'as-designed': 'As the design is',
  'gave-way': 'Gave way',
  'cannot-be-made': 'Cannot be made',
  empty: 'No name',
}

/** How a row stands, by shape and for those who cannot see it. */
export function RowMark({ row }: { row: Row }) {
  if (row.state === '') return null
  const blocks = row.state === 'cannot-be-made' || row.state === 'empty'
  const look = (row.state === 'gave-way' && !row.looked) || row.look_again
  return (
    <span role="img" aria-label={SAYS[row.state]} title={SAYS[row.state]} style={{ flexShrink: 0 }}>
      <FindingMark blocks={blocks} look={look} />
    </span>
  )
}
