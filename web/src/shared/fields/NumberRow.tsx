import { Row } from './Panel'
import { TypedField, within } from './TypedField'

interface Props {
  label: string
  /** What it is counted in: ° or %. */
  sign: '°' | '%'
  value: number
  min: number
  max: number
  onChange: (value: number, from: number | null) => void
}

/** A number of degrees or of hundredths, by its name. */
export function NumberRow({ label, sign, value, min, max, onChange }: Props) {
  const words = { '°': 'degrees', '%': 'per cent' }[sign]
  const show = (number: number) => `${Math.round(number * 100) / 100}${sign === '%' ? ' ' : ''}${sign}`
  return (
    <Row label={label}>
      <TypedField
        label={label}
        value={value}
        show={show}
        read={(text) => {
          const number = Number(text.replace(sign, '').replace(',', '.').trim())
          if (text.trim() === '' || !Number.isFinite(number))
            return { wrong: `“${text.trim()}” is not a number of ${words}.` }
          if (number < min || number > max) return { wrong: `It can be ${show(min)} to ${show(max)}.` }
          return { value: number }
        }}
        step={(number, steps) => within(number + steps, min, max)}
        onChange={onChange}
      />
    </Row>
  )
}
