import { TypedField, within } from './TypedField'

interface Props {
  label: string
  value: number
  min: number
  max: number
  onChange: (count: number) => void
}

/** A whole number to type. */
export function CountField({ label, value, min, max, onChange }: Props) {
  return (
    <TypedField
      label={label}
      value={value}
      show={String}
      read={(text) => {
        const count = Number(text.trim())
        return text.trim() !== '' && Number.isInteger(count) && count >= min && count <= max
          ? { value: count }
          : { wrong: `Type a whole number from ${min} to ${max}.` }
      }}
      step={(count, steps) => within(count + Math.sign(steps), min, max)}
      onChange={onChange}
    />
  )
}
