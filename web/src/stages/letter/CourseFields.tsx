import { Box, NativeSelect, Text } from '@chakra-ui/react'
import { defaultsOf, limitsOf } from '../../shared/api/model'
import { partName } from '../../shared/design/partNames'
import type { Course, Lettering, Part, Warp } from '../../shared/design/recipe'
import { asOneStep, editOnce, useDesign, usePart } from '../../shared/design/store'
import { useUnit } from '../../shared/evaluation/store'
import { LengthRow } from '../../shared/fields/LengthRow'
import { Row } from '../../shared/fields/Panel'
import { Segments } from '../../shared/fields/Segments'
import { Slide } from '../../shared/fields/Slide'
import { Toggle } from '../../shared/fields/Toggle'
import { TypedField, within } from '../../shared/fields/TypedField'
import { useFramed } from './useFramed'

export const DEFAULT_COURSE: Course = defaultsOf('Course')

const KINDS = [
  { value: 'straight', label: 'Straight' },
  { value: 'circle', label: 'Circle' },
  { value: 'arc', label: 'Arc' },
  { value: 'wave', label: 'Wave' },
  { value: 'down', label: 'Downwards' },
  { value: 'line', label: 'Part' },
] as const

const edit = (change: Partial<Lettering>) => useDesign.getState().edit(change)

/** What lettering runs along, and how it is bent as a whole. */
export function CourseFields() {
  const course = usePart((part) => part.course)
  const framed = useFramed()
  if (framed)
    return (
      <Text fontSize="sm" color="softInk">
        {`It is fitted into “${partName(framed)}”, which says how it runs.`}
      </Text>
    )
  return (
    <>
      <Kind course={course ?? null} rows={[0, 3]} label="What it runs along" />
      <Kind course={course ?? null} rows={[3, 6]} label="What it runs along, otherwise" />
      {course && <Along course={course} />}
      <Bend />
    </>
  )
}

interface KindProps {
  course: Course | null
  rows: [number, number]
  label: string
}

function Kind({ course, rows, label }: KindProps) {
  const others = useLines()
  return (
    <Segments
      label={label}
      size="xs"
      value={course?.kind ?? 'straight'}
      options={KINDS.slice(...rows).filter(({ value }) => value !== 'line' || others.length > 0)}
      onChange={(kind) => {
        if (kind === 'straight') return editOnce({ course: null })
        const of = kind === 'line' ? (course?.of ?? others[0]?.id ?? null) : null
        editOnce({
          course: { ...DEFAULT_COURSE, ...course, kind, of, place: 0, spread: 0, stands: kind === 'line' },
          align: 'centre',
        })
      }}
      fill
    />
  )
}

const EDGED: ReadonlySet<Part['kind']> = new Set(['shape', 'line', 'artwork', 'ornament', 'combination'])

/** Parts beside the lettering whose edge it can run along. */
function useLines(): Part[] {
  const parts = useDesign((s) => s.recipe.parts)
  const inside = new Set(
    parts.flatMap((p) => (p.kind === 'combination' || p.kind === 'frame' ? p.members.map(String) : [])),
  )
  return parts.filter((p) => EDGED.has(p.kind) && !inside.has(p.id))
}

function Along({ course }: { course: Course }) {
  const unit = useUnit()
  const change = (more: Partial<Course>) => edit({ course: { ...course, ...more } })
  const once = (more: Partial<Course>) => {
    asOneStep(() => change(more))
  }
  const length = (
    key: 'diameter_mm' | 'length_mm' | 'swing_mm' | 'distance_mm' | 'spine_mm',
    label: string,
    min: number,
    max: number,
  ) => (
    <LengthRow
      label={label}
      mm={course[key]}
      unit={unit}
      min={min}
      max={max}
      stepMm={0.5}
      onChange={(mm) => change({ [key]: mm })}
    />
  )
  if (course.kind === 'down')
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
        {length('spine_mm', 'Spine behind them', 0, 100)}
        <Text fontSize="sm" color="softInk">
          {course.spine_mm > 0
            ? 'The letters hang on the spine, each by itself.'
            : 'Without a spine, join the letters in the Join stage.'}
        </Text>
      </>
    )
  return (
    <>
      {course.kind === 'circle' && (
        <>
          {length('diameter_mm', 'Diameter', 1, 5000)}
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
          <Degrees
            label="Its middle, from the top"
            value={course.place}
            onChange={(place) => change({ place })}
          />
        </>
      )}
      {course.kind === 'arc' && (
        <>
          {length('length_mm', 'From end to end', 1, 5000)}
          <Slide
            name="Bend"
            min={-1}
            max={1}
            step={0.01}
            value={course.bulge}
            onChange={(bulge) => change({ bulge })}
          />
        </>
      )}
      {course.kind === 'wave' && (
        <>
          {length('length_mm', 'From end to end', 1, 5000)}
          {length('swing_mm', 'Swing', 0, 500)}
          <Slide
            name="Waves"
            min={0.5}
            max={8}
            step={0.5}
            value={course.waves}
            onChange={(waves) => change({ waves })}
          />
        </>
      )}
      {course.kind === 'line' && <Line course={course} once={once} />}
      {course.kind !== 'circle' && (
        <Slide
          name="Along it, %"
          min={-50}
          max={50}
          step={1}
          value={Math.round(course.place * 100)}
          onChange={(percent) => change({ place: percent / 100 })}
        />
      )}
      {!course.stands && length('distance_mm', 'Above the line by', -500, 500)}
      <Toggle
        checked={course.spread > 0}
        onChange={(on) => once({ spread: on ? (course.kind === 'circle' ? 180 : 0.9) : 0 })}
      >
        {course.kind === 'circle' ? 'Spread over an arc' : 'Spread along it'}
      </Toggle>
      {course.spread > 0 &&
        (course.kind === 'circle' ? (
          <Degrees
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

function Degrees({
  label,
  value,
  onChange,
}: {
  label: string
  value: number
  onChange: (degrees: number) => void
}) {
  return (
    <Row label={label}>
      <TypedField
        label={label}
        value={value}
        show={(degrees) => `${Math.round(degrees * 10) / 10}°`}
        read={(text) => {
          const degrees = Number(text.replace('°', '').replace(',', '.').trim())
          return text.trim() !== '' && Math.abs(degrees) <= 360
            ? { value: degrees }
            : { wrong: `“${text.trim()}” is not a number of degrees up to 360.` }
        }}
        step={(degrees, steps) => within(degrees + steps, -360, 360)}
        onChange={onChange}
      />
    </Row>
  )
}

/** The part whose line or edge the lettering runs along. */
function Line({ course, once }: { course: Course; once: (more: Partial<Course>) => void }) {
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

const BENDS = [
  { value: 'none', label: 'No bend' },
  { value: 'arch', label: 'Arch' },
  { value: 'wave', label: 'Wave' },
  { value: 'bulge', label: 'Bulge' },
] as const

/** The bend of the word as a whole. */
function Bend() {
  const warp = usePart((part) => part.warp) ?? null
  const change = (more: Partial<Warp>) =>
    edit({ warp: { kind: 'arch', amount: 0.2, waves: 1, ...warp, ...more } })
  return (
    <Box display="grid" gap="2.5">
      <Segments
        label="Bend of the whole word"
        size="xs"
        value={warp?.kind ?? 'none'}
        options={BENDS}
        onChange={(kind) => {
          if (kind === 'none') editOnce({ warp: null })
          else asOneStep(() => change({ kind }))
        }}
        fill
      />
      {warp && (
        <Slide
          name="How much"
          {...limitsOf('Warp', 'amount')}
          step={0.01}
          value={warp.amount}
          onChange={(amount) => change({ amount })}
        />
      )}
      {warp?.kind === 'wave' && (
        <Slide
          name="Waves"
          min={0.5}
          max={6}
          step={0.5}
          value={warp.waves}
          onChange={(waves) => change({ waves })}
        />
      )}
    </Box>
  )
}
