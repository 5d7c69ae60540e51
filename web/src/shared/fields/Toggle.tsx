import { Switch } from '@chakra-ui/react'
import type { ReactNode } from 'react'

interface Props {
  checked: boolean
  onChange: (checked: boolean) => void
  children: ReactNode
}

/** A word with a switch at its right. */
export function Toggle({ checked, onChange, children }: Props) {
  return (
    <Switch.Root
      size="sm"
      display="flex"
      justifyContent="space-between"
      checked={checked}
      onCheckedChange={(e) => onChange(e.checked)}
    >
      <Switch.Label fontWeight="450">{children}</Switch.Label>
      <Switch.HiddenInput />
      <Switch.Control _checked={{ bg: 'hold' }} flexShrink="0" />
    </Switch.Root>
  )
}
