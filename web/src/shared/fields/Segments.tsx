import { SegmentGroup, VisuallyHidden } from '@chakra-ui/react'
import type { ReactNode } from 'react'

interface Props<T extends string> {
  label: string
  value: T
  /** An option with an icon shows only that; its label is then read out. */
  options: readonly { value: T; label: string; icon?: ReactNode }[]
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
      {options.map((option) => (
        <SegmentGroup.Item
          key={option.value}
          value={option.value}
          cursor="pointer"
          fontWeight="550"
          color="ink"
          _checked={{ bg: 'ink', color: 'card' }}
          {...(fill ? { flex: '1', minWidth: '0', px: '2' } : {})}
        >
          <SegmentGroup.ItemText width="full" display="inline-flex" justifyContent="center">
            {option.icon ? (
              <>
                {option.icon}
                <VisuallyHidden>{option.label}</VisuallyHidden>
              </>
            ) : (
              option.label
            )}
          </SegmentGroup.ItemText>
          <SegmentGroup.ItemHiddenInput />
        </SegmentGroup.Item>
      ))}
    </SegmentGroup.Root>
  )
}
