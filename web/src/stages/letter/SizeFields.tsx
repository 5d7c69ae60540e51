import { Text } from '@chakra-ui/react'
import { partName } from '../../shared/design/partNames'
import type { SizeMeasure, Unit } from '../../shared/design/recipe'
import { editOnce, useDesign, usePart } from '../../shared/design/store'
import { MM_PER_POINT, parseLength, showLength } from '../../shared/design/units'
import { usePartView, useUnit } from '../../shared/evaluation/store'
import { Row } from '../../shared/fields/Panel'
import { Segments } from '../../shared/fields/Segments'
import { NOT_A_LENGTH, TypedField, within } from '../../shared/fields/TypedField'
import { useFramed } from './useFramed'

const MEASURES: readonly { value: SizeMeasure; label: string }[] = [
  { value: 'width', label: 'Width' },
  { value: 'height', label: 'Height' },
  { value: 'capitals', label: 'Capitals' },
  { value: 'face', label: 'Face' },
]

const WORDS: Record<SizeMeasure, string> = {
  width: 'Overall width',
  height: 'Overall height',
  capitals: 'Height of a capital',
  face: 'Size of the face',
}

/** Along a line letters are measured as if it were straight. */
const ALONG: Record<SizeMeasure, string> = {
  width: 'Length on its line',
  height: 'Height on its line',
  capitals: 'Height of a capital',
  face: 'Size of the face',
}

export const MIN_SIZE_MM = 1
export const MAX_SIZE_MM = 3000

/** What is measured, and how large it is. Another measure keeps the size as it is now. */
export function SizeFields() {
  const { measure, mm } = usePart((part) => part.size)
  const along = usePart((part) => (part.course?.kind ?? 'down') !== 'down')
  const spread = usePart((part) => (part.course?.spread ?? 0) > 0)
  const view = usePartView()
  const unit = useUnit()
  const edit = useDesign((s) => s.edit)
  const framed = useFramed()

  function measureBy(next: SizeMeasure) {
    const made = view?.made
    const now = {
      width: made?.width_mm,
      height: made?.height_mm,
      capitals: made?.capital_height_mm,
      face: made?.size_mm,
    }[next]
    const kept = Math.min(MAX_SIZE_MM, Math.max(MIN_SIZE_MM, now ?? mm))
    editOnce({ size: { measure: next, mm: Math.round(kept * 1e4) / 1e4 } })
  }

  if (framed)
    return (
      <Text fontSize="sm" color="softInk">
        {`It is as large as “${partName(framed)}” has room for.`}
      </Text>
    )
  return (
    <>
      <Segments label="What is measured" value={measure} options={MEASURES} onChange={measureBy} fill />
      <SizeRow
        label={along ? (spread && measure === 'width' ? 'Length as set' : ALONG[measure]) : WORDS[measure]}
        mm={mm}
        unit={unit}
        min={MIN_SIZE_MM}
        max={MAX_SIZE_MM}
        stepMm={unit === 'in' ? 25.4 / 4 : 1}
        onChange={(value) => edit({ size: { measure, mm: value } })}
        onPoints={(value) => edit({ size: { measure: 'face', mm: value } })}
      />
      {measure === 'face' && (
        <Text fontSize="sm" color="softInk">
          {`${Math.round((mm / MM_PER_POINT) * 10) / 10} pt; as in print, from the lowest to the highest stroke of the face, and some air.`}
        </Text>
      )}
      {view?.box && (
        <Text fontSize="sm" color="softInk">
          {showLength(view.box.width, unit, unit === 'in' ? 2 : 1)} wide,{' '}
          {showLength(view.box.height, unit, unit === 'in' ? 2 : 1)} high
        </Text>
      )}
    </>
  )
}

interface SizeRowProps {
  label: string
  mm: number
  unit: Unit
  min: number
  max: number
  stepMm: number
  onChange: (mm: number) => void
  onPoints: (mm: number) => void
}

/** A size; typed in points it is that of the face, whatever is measured otherwise. */
function SizeRow({ label, mm, unit, min, max, stepMm, onChange, onPoints }: SizeRowProps) {
  return (
    <Row label={label}>
      <TypedField
        label={label}
        value={{ mm, points: false }}
        show={(size) => showLength(size.mm, unit)}
        read={(text) => {
          const value = parseLength(text, unit)
          if (value === null) return { wrong: `“${text.trim()}” ${NOT_A_LENGTH}` }
          if (value < min || value > max)
            return { wrong: `It can be ${showLength(min, unit)} to ${showLength(max, unit)}.` }
          return { value: { mm: value, points: /pt\s*$/i.test(text) } }
        }}
        step={(size, steps) => ({ ...size, mm: within(size.mm + steps * stepMm, min, max) })}
        onChange={(size) => (size.points ? onPoints : onChange)(size.mm)}
      />
    </Row>
  )
}
