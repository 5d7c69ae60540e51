import { Text } from '@chakra-ui/react'
import { defaultsOf } from '../../shared/api/model'
import { partName } from '../../shared/design/partNames'
import type { Course } from '../../shared/design/recipe'
import { editOnce, usePart } from '../../shared/design/store'
import { Segments } from '../../shared/fields/Segments'
import { AlongFields } from './AlongFields'
import { BendFields } from './BendFields'
import { useFramed } from './useFramed'
import { useLines } from './useLines'

export const DEFAULT_COURSE: Course = defaultsOf('Course')

const KINDS = [
  { value: 'straight', label: 'Straight' },
  { value: 'circle', label: 'Circle' },
  { value: 'arc', label: 'Arc' },
  { value: 'wave', label: 'Wave' },
  { value: 'down', label: 'Downwards' },
  { value: 'line', label: 'Part' },
] as const

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
      {course && <AlongFields course={course} />}
      <BendFields />
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
