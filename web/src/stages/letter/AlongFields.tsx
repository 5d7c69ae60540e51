// What can be set of a line that lettering runs along, kind by kind.

import { NativeSelect, Text } from '@chakra-ui/react'
import { limitsOf } from '../../shared/api/model'
import { partName } from '../../shared/design/partNames'
import type { Course } from '../../shared/design/recipe'
import { asOneStep, useDesign } from '../../shared/design/store'
import { useUnit } from '../../shared/evaluation/store'
import { LengthRow } from '../../shared/fields/LengthRow'
import { NumberRow } from '../../shared/fields/NumberRow'
import { Segments } from '../../shared/fields/Segments'
import { Slide } from '../../shared/fields/Slide'
import { Toggle } from '../../shared/fields/Toggle'
import { useLines } from './useLines'

interface Props {
  course: Course
  /** Changes it as part of a drag. */
  change: (more: Partial<Course>) => void
  /** Changes it as a step of its own. */
  once: (more: Partial<Course>) => void
}

/** All that can be set of a line that is not straight. */
export function AlongFields({ course }: { course: Course }) {
  const change = (more: Partial<Course>) => useDesign.getState().edit({ course: { ...course, ...more } })
  const once = (more: Partial<Course>) => asOneStep(() => change(more))
  const props = { course, change, once }
  if (course.kind === 'down') return <DownFields {...props} />
  return (
    <>
      {course.kind === 'circle' && <CircleFields {...props} />}
      {course.kind === 'arc' && <ArcFields {...props} />}
      {course.kind === 'wave' && <WaveFields {...props} />}
      {course.kind === 'line' && <LineFields {...props} />}
      {course.kind !== 'circle' && <PlaceField {...props} />}
      {!course.stands && <Length {...props} field="distance_mm" label="Above the line by" />}
      <SpreadFields {...props} />
      <Segments
        label="How letters follow"
        size="xs"
        value={course.letters}
        options={[
          { value: 'turned', label: 'Letters turned' },
          { value: 'bent', label: 'Letters bent' },
        ]}
        onChange={(letters) => once({ letters })}
        fill
      />
    </>
  )
}

interface LengthProps extends Props {
  field: 'diameter_mm' | 'length_mm' | 'swing_mm' | 'distance_mm' | 'spine_mm'
  label: string
}

function Length({ course, change, field, label }: LengthProps) {
  const unit = useUnit()
  return (
    <LengthRow
      label={label}
      mm={course[field]}
      unit={unit}
      {...limitsOf('Course', field)}
      stepMm={0.5}
      onChange={(mm) => change({ [field]: mm })}
    />
  )
}

/** Letters one below the other. */
function DownFields(props: Props) {
  const { course, change } = props
  return (
    <>
      <Slide
        name="Gap between letters"
        min={-0.3}
        max={0.6}
        step={0.01}
        value={course.gap_share}
        onChange={(gap_share) => change({ gap_share })}
      />
      <Length {...props} field="spine_mm" label="Spine behind them" />
      <Text fontSize="sm" color="softInk">
        {course.spine_mm > 0
          ? 'The letters hang on the spine, each by itself.'
          : 'Without a spine, join the letters in the Join stage.'}
      </Text>
    </>
  )
}

/** Around a circle. */
function CircleFields(props: Props) {
  const { course, change, once } = props
  return (
    <>
      <Length {...props} field="diameter_mm" label="Diameter" />
      <Segments
        label="Side of the circle"
        size="xs"
        value={course.side}
        options={[
          { value: 'outside', label: 'Outside of it' },
          { value: 'inside', label: 'Inside' },
        ]}
        onChange={(side) => once({ side })}
        fill
      />
      <Segments
        label="Where the heads point"
        size="xs"
        value={course.reading}
        options={[
          { value: 'outward', label: 'Heads outward' },
          { value: 'inward', label: 'Heads inward' },
        ]}
        onChange={(reading) => once({ reading, place: reading === 'inward' ? 180 : 0 })}
        fill
      />
      <NumberRow
        sign="°"
        {...limitsOf('Course', 'place')}
        label="Its middle, from the top"
        value={course.place}
        onChange={(place) => change({ place })}
      />
    </>
  )
}

/** Along an arc. */
function ArcFields(props: Props) {
  const { course, change } = props
  return (
    <>
      <Length {...props} field="length_mm" label="From end to end" />
      <Slide
        name="Bend"
        min={-1}
        max={1}
        step={0.01}
        value={course.bulge}
        onChange={(bulge) => change({ bulge })}
      />
    </>
  )
}

/** Along a wave. */
function WaveFields(props: Props) {
  const { course, change } = props
  return (
    <>
      <Length {...props} field="length_mm" label="From end to end" />
      <Length {...props} field="swing_mm" label="Swing" />
      <Slide
        name="Waves"
        min={0.5}
        max={8}
        step={0.5}
        value={course.waves}
        onChange={(waves) => change({ waves })}
      />
    </>
  )
}

/** Where its middle lies along the line. */
function PlaceField({ course, change }: Props) {
  return (
    <Slide
      name="Along it, %"
      min={-50}
      max={50}
      step={1}
      value={Math.round(course.place * 100)}
      onChange={(percent) => change({ place: percent / 100 })}
    />
  )
}

/** Letters spread evenly over a stretch of the line. */
function SpreadFields({ course, change, once }: Props) {
  return (
    <>
      <Toggle
        checked={course.spread > 0}
        onChange={(on) => once({ spread: on ? (course.kind === 'circle' ? 180 : 0.9) : 0 })}
      >
        {course.kind === 'circle' ? 'Spread over an arc' : 'Spread along it'}
      </Toggle>
      {course.spread > 0 &&
        (course.kind === 'circle' ? (
          <NumberRow
            sign="°"
            {...limitsOf('Course', 'place')}
            label="The arc"
            value={course.spread}
            onChange={(spread) => change({ spread: Math.max(1, spread) })}
          />
        ) : (
          <Slide
            name="Share of the line, %"
            min={5}
            max={100}
            step={1}
            value={Math.round(course.spread * 100)}
            onChange={(percent) => change({ spread: percent / 100 })}
          />
        ))}
    </>
  )
}

/** The part whose line or edge the lettering runs along. */
function LineFields({ course, once }: Props) {
  const lines = useLines()
  return (
    <>
      <NativeSelect.Root size="sm">
        <NativeSelect.Field
          aria-label="The part it runs along"
          value={course.of ?? ''}
          bg="card"
          borderColor="edge"
          onChange={(e) => once({ of: e.target.value, contour: 0 })}
        >
          {lines.map((part) => (
            <option key={part.id} value={part.id}>
              {partName(part)}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      <Toggle checked={course.stands} onChange={(stands) => once({ stands })}>
        Every foot runs into it
      </Toggle>
      <Toggle checked={course.back} onChange={(back) => once({ back })}>
        The other way round
      </Toggle>
    </>
  )
}
