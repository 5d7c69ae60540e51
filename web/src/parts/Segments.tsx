import { SegmentGroup } from '@chakra-ui/react'
import type { ReactNode } from 'react'

interface Props<T extends string> {
  label: string
  value: T
  options: readonly { value: T; label: ReactNode; name?: string }[]
  onChange: (value: T) => void
  size?: 'xs' | 'sm'
  fill?: boolean
}

/** A choice of a few, all in sight. */
export function Segments<T extends string>({ label, value, options, onChange, size = 'sm', fill }: Props<T>) {
  return (
    <SegmentGroup.Root
      aria-label={label}
      size={size}
      value={value}
      onValueChange={(e) => e.value && onChange(e.value as T)}
      bg="paper"
      boxShadow="inset 0 0 0 1px {colors.rule}"
      width={fill ? 'full' : 'auto'}
    >
      <SegmentGroup.Indicator bg="ink" boxShadow="none" />
      {options.map((option) => (
        <SegmentGroup.Item
          key={option.value}
          value={option.value}
          flex={fill ? '1' : undefined}
          cursor="pointer"
        >
          <SegmentGroup.ItemText
            color={option.value === value ? 'card' : 'ink'}
            fontWeight="550"
            width="full"
            display="inline-flex"
            justifyContent="center"
          >
            {option.label}
          </SegmentGroup.ItemText>
          <SegmentGroup.ItemHiddenInput {...(option.name ? { 'aria-label': option.name } : {})} />
        </SegmentGroup.Item>
      ))}
    </SegmentGroup.Root>
  )
}
