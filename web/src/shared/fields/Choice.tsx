import { NativeSelect } from '@chakra-ui/react'

interface Props<T extends string> {
  label: string
  value: T
  /** Those of a group stand one after the other, below its name. */
  options: readonly { value: T; label: string; group?: string }[]
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
        {[...new Set(options.map((option) => option.group))].map((group) => {
          const own = options.filter((option) => option.group === group).map(asOption)
          return group === undefined ? (
            own
          ) : (
            <optgroup key={group} label={group}>
              {own}
            </optgroup>
          )
        })}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  )
}

const asOption = ({ value, label }: { value: string; label: string }) => (
  <option key={value} value={value}>
    {label}
  </option>
)
