import { Row } from './Panel'
import { TypedField, within } from './TypedField'

/** An angle in degrees. */
export function DegreesField({
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
