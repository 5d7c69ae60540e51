import { Text } from '@chakra-ui/react'
import { SwatchBook } from 'lucide-react'
import { limitsOf } from '../../../shared/api/model'
import { partName } from '../../../shared/design/partNames'
import { type Backing, findPart } from '../../../shared/design/recipe'
import { selectionNow } from '../../../shared/design/selection'
import { useDesign } from '../../../shared/design/store'
import { useUnit } from '../../../shared/evaluation/store'
import { LengthRow } from '../../../shared/fields/LengthRow'
import { Section } from '../../../shared/fields/Panel'
import { Segments } from '../../../shared/fields/Segments'
import { addBacking } from '../actions'
import { change, changeOnce } from './change'
import type { PartKind } from './kind'

function BackingFields({ part }: { part: Backing }) {
  const unit = useUnit()
  const of = useDesign((s) => partName(findPart(s.recipe, part.of)))
  return (
    <Section title="Backing">
      <Text fontSize="sm" color="softInk">{`Follows “${of}” when that changes.`}</Text>
      <LengthRow
        label="Goes beyond it by"
        mm={part.by_mm ?? 3}
        unit={unit}
        {...limitsOf('Backing', 'by_mm')}
        stepMm={0.5}
        onChange={(mm) => change({ by_mm: mm })}
      />
      <Segments
        label="Holes"
        size="xs"
        value={part.holes ?? 'fill small'}
        options={[
          { value: 'keep', label: 'Keep holes' },
          { value: 'fill small', label: 'Fill small' },
          { value: 'fill all', label: 'Fill all' },
        ]}
        onChange={(holes) => changeOnce({ holes })}
        fill
      />
      {part.holes === 'fill small' && (
        <LengthRow
          label="Small is up to"
          mm={part.fill_mm ?? 4}
          unit={unit}
          {...limitsOf('Backing', 'fill_mm')}
          stepMm={0.5}
          onChange={(mm) => change({ fill_mm: mm })}
        />
      )}
      <Segments
        label="Corners"
        size="xs"
        value={part.corners ?? 'round'}
        options={[
          { value: 'round', label: 'Round corners' },
          { value: 'mitred', label: 'Sharp' },
        ]}
        onChange={(corners) => changeOnce({ corners })}
        fill
      />
    </Section>
  )
}

export const BACKING: PartKind<Backing> = {
  Fields: BackingFields,
  add: { label: 'Backing', Icon: SwatchBook, run: () => addBacking(selectionNow().part) },
}
