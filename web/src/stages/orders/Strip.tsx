import { Flex } from '@chakra-ui/react'
import type { ComponentProps } from 'react'

/** What is said of all together, below it, and what comes next. */
export function Strip({ label, ...rest }: { label: string } & ComponentProps<typeof Flex>) {
  return (
    <Flex
      as="section"
      aria-label={label}
      align="center"
      px="5"
      minHeight="72px"
      flexShrink="0"
      bg="card"
      borderTopWidth="1px"
      borderColor="rule"
      aria-live="polite"
      {...rest}
    />
  )
}
