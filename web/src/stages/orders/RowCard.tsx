import { chakra } from '@chakra-ui/react'
import { memo } from 'react'
import type { Unit } from '../../shared/design/recipe'
import { copiesOf, type Row, told, wordsOf } from './order'
import { RowMark } from './RowMark'
import { look } from './store'

/** All of a card in one style: many cards come into sight at once while rows are scrolled. */
const Card = chakra('button', {
  base: {
    display: 'flex',
    flexDirection: 'column',
    width: '100%',
    height: 'rowCard',
    textAlign: 'left',
    bg: 'card',
    borderWidth: '1px',
    borderColor: 'rule',
    borderRadius: 'lg',
    overflow: 'hidden',
    cursor: 'pointer',
    contain: 'strict',
    _hover: { borderColor: 'edge', boxShadow: 'md' },
    '&[aria-pressed=true]': { borderColor: 'ink', boxShadow: '0 0 0 1px {colors.ink}' },
    '& .picture': {
      flex: '1',
      minHeight: '0',
      width: '100%',
      display: 'grid',
      placeItems: 'center',
      bg: 'paper',
      px: '4',
      py: '3',
      color: 'softInk',
      fontSize: 'sm',
    },
    '& img': { width: '100%', height: '100%', objectFit: 'contain', minHeight: '0' },
    '& .about': { width: '100%', px: '3', pt: '2', pb: '2.5' },
    '& .name': { display: 'flex', alignItems: 'center', gap: '2' },
    '& .number': { color: 'softInk', fontSize: 'sm', fontVariantNumeric: 'tabular-nums' },
    '& .words': { flex: '1', minWidth: '0', fontWeight: '650', truncate: true },
    '& .copies': { fontSize: 'sm', fontWeight: '600' },
    '& .told': {
      fontSize: 'sm',
      color: 'softInk',
      lineClamp: '2',
      lineHeight: '1.3',
      minHeight: '2.6em',
    },
  },
})

interface Props {
  row: Row
  unit: Unit
  chosen: boolean
}

/** A row as it will be cut, with how it stands. */
export const RowCard = memo(function RowCard({ row, unit, chosen }: Props) {
  const words = wordsOf(row) || 'no name'
  const copies = copiesOf(row)
  return (
    // biome-ignore lint/a11y/useSemanticElements: only the rows in sight are in the document, placed by their lines
    <div role="listitem" style={ANY_WIDTH} data-row={row.number} data-state={row.state}>
      <Card
        type="button"
        aria-label={`Row ${row.number}, ${words}`}
        aria-pressed={chosen}
        onClick={() => look({ row: chosen ? null : row.number })}
      >
        <span className="picture">
          {row.picture ? (
            <img src={row.picture} alt="" decoding="async" />
          ) : row.state === '' ? (
            'Being worked out…'
          ) : (
            'Nothing to cut'
          )}
        </span>
        <span className="about">
          <span className="name">
            <span className="number">{row.number}</span>
            <span className="words">{words}</span>
            {copies > 1 && <span className="copies">×{copies}</span>}
            <RowMark row={row} />
          </span>
          <span className="told">
            {row.look_again ? 'Changed since you looked at it. ' : ''}
            {row.state === '' ? '' : told(row, unit)}
          </span>
        </span>
      </Card>
    </div>
  )
})

const ANY_WIDTH = { minWidth: 0 }
