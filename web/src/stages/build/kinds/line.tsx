import { Text } from '@chakra-ui/react'
import { Spline } from 'lucide-react'
import { limitsOf } from '../../../shared/api/model'
import type { LinePart, PartChange } from '../../../shared/design/recipe'
import { useDesign } from '../../../shared/design/store'
import { useUnit } from '../../../shared/evaluation/store'
import { LengthRow } from '../../../shared/fields/LengthRow'
import { Section } from '../../../shared/fields/Panel'
import { Segments } from '../../../shared/fields/Segments'
import { Slide } from '../../../shared/fields/Slide'
import { middleOfView, put } from '../actions'
import { newPart } from '../parts'
import { change, changeOnce } from './change'
import type { PartKind } from './kind'

function LineFields({ part }: { part: LinePart }) {
  const unit = useUnit()
  const course = part.course ?? 'straight'
  return (
    <Section title="Line">
      <Segments
        label="Course"
        size="xs"
        value={course}
        options={[
          { value: 'straight', label: 'Straight' },
          { value: 'arc', label: 'Arc' },
          { value: 'wave', label: 'Wave' },
          { value: 'free', label: 'Free' },
        ]}
        onChange={(next) =>
          changeOnce({
            course: next,
            ...(next === 'free' && (part.points?.length ?? 0) < 3 ? withMiddle(part) : {}),
          })
        }
        fill
      />
      {course === 'arc' && (
        <Slide
          name="Bend"
          min={-1}
          max={1}
          step={0.01}
          value={part.bulge ?? 0.25}
          onChange={(bulge) => change({ bulge })}
        />
      )}
      {course === 'wave' && (
        <>
          <Slide
            name="Waves"
            min={1}
            max={20}
            step={1}
            value={part.waves ?? 3}
            onChange={(waves) => change({ waves })}
          />
          <LengthRow
            label="Swing"
            mm={part.swing_mm ?? 5}
            unit={unit}
            {...limitsOf('LinePart', 'swing_mm')}
            stepMm={0.5}
            onChange={(mm) => change({ swing_mm: mm })}
          />
        </>
      )}
      {course === 'free' && (
        <Text fontSize="sm" color="softInk">
          Drag its points on the work. Double-click the line for one more, a point for a corner; Delete takes
          out the point that was dragged last.
        </Text>
      )}
      {part.use === 'cut' || part.use === 'engrave' ? (
        <>
          <LengthRow
            label="Width of the band"
            mm={part.width_mm ?? 4}
            unit={unit}
            {...limitsOf('LinePart', 'width_mm')}
            stepMm={0.5}
            onChange={(mm) => change({ width_mm: mm })}
          />
          <Segments
            label="Ends"
            size="xs"
            value={part.ends ?? 'round'}
            options={[
              { value: 'round', label: 'Round ends' },
              { value: 'square', label: 'Square' },
              { value: 'pointed', label: 'Pointed' },
            ]}
            onChange={(ends) => changeOnce({ ends })}
            fill
          />
        </>
      ) : (
        <Text fontSize="sm" color="softInk">
          It stays a line without a width.
        </Text>
      )}
    </Section>
  )
}

/** A line's ends with a point between them, to be dragged. */
function withMiddle(part: LinePart): PartChange {
  const [start, end] = [part.points?.[0], part.points?.at(-1)]
  if (!start || !end) return {}
  const middle = { x: (start.x + end.x) / 2, y: (start.y + end.y) / 2 - 8, corner: false }
  return { points: [start, middle, end] }
}

export const LINE: PartKind<LinePart> = {
  Fields: LineFields,
  add: {
    label: 'Line',
    Icon: Spline,
    run: () => put(newPart(useDesign.getState().recipe, 'line', { course: 'straight' }, middleOfView())),
  },
}
