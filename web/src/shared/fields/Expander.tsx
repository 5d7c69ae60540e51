import { Button, Flex } from '@chakra-ui/react'
import { ChevronDown, ChevronRight } from 'lucide-react'
import { type ReactNode, useState } from 'react'

interface Props {
  label: string
  /** Whether it is open to begin with. */
  open: boolean
  children: ReactNode
}

/** Something that is seldom wanted, behind a word. */
export function Expander({ label, open: first, children }: Props) {
  const [open, setOpen] = useState(first)
  const Arrow = open ? ChevronDown : ChevronRight
  return (
    <Flex direction="column" gap="2">
      <Button
        variant="plain"
        size="sm"
        height="7"
        px="0"
        alignSelf="start"
        fontWeight="550"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        <Arrow size={15} /> {label}
      </Button>
      {open && children}
    </Flex>
  )
}
