import { NativeSelect } from '@chakra-ui/react'

interface Props<T extends string> {
  label: string
  value: T
  options: readonly { value: T; label: string }[]
  onChange: (value: T) => void
}

/** One of several, in a list that opens. */
export function Choice<T extends string>({ label, value, options, onChange }: Props<T>) {
  return (
    <NativeSelect.Root size="sm">
      <NativeSelect.Field
        aria-label={label}
        bg="card"
        borderColor="edge"
        value={value}
        onChange={(e) => onChange(e.target.value as T)}
      >
        {options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.label}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  )
}
