import { FileInput } from 'lucide-react'
import { limitsOf } from '../../../shared/api/model'
import type { Artwork } from '../../../shared/design/recipe'
import { useUnit } from '../../../shared/evaluation/store'
import { LengthRow } from '../../../shared/fields/LengthRow'
import { Section } from '../../../shared/fields/Panel'
import { Segments } from '../../../shared/fields/Segments'
import { ColourUses } from '../ColourUses'
import { ContourNotes } from '../ContourNotes'
import { useBuild } from '../store'
import { change, changeOnce } from './change'
import type { PartKind } from './kind'

function ArtworkFields({ part }: { part: Artwork }) {
  const unit = useUnit()
  const hasLines = part.items.some((item) => item.line)
  return (
    <Section title="Drawing">
      <Segments
        label="Its colours"
        size="xs"
        value={part.colours ?? 'one'}
        options={[
          { value: 'one', label: 'All one film' },
          { value: 'own', label: 'Its own colours' },
        ]}
        onChange={(colours) => changeOnce({ colours })}
        fill
      />
      {hasLines && (
        <>
          <LengthRow
            label="Close gaps up to"
            mm={part.close_mm ?? 0.1}
            unit={unit}
            {...limitsOf('Artwork', 'close_mm')}
            stepMm={0.1}
            onChange={(mm) => change({ close_mm: mm })}
          />
          <Segments
            label="Open lines"
            size="xs"
            value={part.lines ?? 'draw'}
            options={[
              { value: 'draw', label: 'Draw' },
              { value: 'score', label: 'Score' },
              { value: 'band', label: 'Cut as bands' },
            ]}
            onChange={(lines) => changeOnce({ lines })}
            fill
          />
          {part.lines === 'band' && (
            <LengthRow
              label="Width of the bands"
              mm={part.band_mm || 1}
              unit={unit}
              {...limitsOf('Artwork', 'band_mm')}
              stepMm={0.5}
              onChange={(mm) => change({ band_mm: mm })}
            />
          )}
        </>
      )}
      <ColourUses part={part} />
      <ContourNotes part={part} />
    </Section>
  )
}

export const ARTWORK: PartKind<Artwork> = {
  Fields: ArtworkFields,
  add: { label: 'Drawing', Icon: FileInput, run: () => useBuild.getState().pick('drawing') },
}
