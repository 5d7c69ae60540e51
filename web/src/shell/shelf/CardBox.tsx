import { Box } from '@chakra-ui/react'
import type { PropsWithChildren } from 'react'

/** A card of a list: what it is a card of is its name. */
export function CardBox({ name, children }: PropsWithChildren<{ name: string }>) {
  return (
    <Box
      role="listitem"
      aria-label={name}
      bg="card"
      borderWidth="1px"
      borderColor="rule"
      borderRadius="lg"
      overflow="hidden"
      transition="box-shadow .15s, border-color .15s"
      _hover={{ borderColor: 'edge', boxShadow: 'md' }}
    >
      {children}
    </Box>
  )
}
