import type { Unit } from '../design/recipe'
import { parseLength, showLength } from '../design/units'
import { NOT_A_LENGTH, TypedField, within } from './TypedField'

interface Props {
  label: string
  mm: number
  unit: Unit
  min: number
  max: number
  /** What an arrow key adds; ten times that with Shift, a tenth with Alt. */
  stepMm: number
  /** `from`: the length it is a step on from; null where it was typed. */
  onChange: (mm: number, from: number | null) => void
}

/** A length to type in any unit. */
export function LengthField({ label, mm, unit, min, max, stepMm, onChange }: Props) {
  return (
    <TypedField
      label={label}
      value={mm}
      show={(value) => showLength(value, unit)}
      read={(text) => {
        const value = parseLength(text, unit)
        if (value === null) return { wrong: `“${text.trim()}” ${NOT_A_LENGTH}` }
        if (value < min || value > max)
          return { wrong: `It can be ${showLength(min, unit)} to ${showLength(max, unit)}.` }
        return { value }
      }}
      step={(value, steps) => within(value + steps * stepMm, min, max)}
      onChange={onChange}
    />
  )
}
