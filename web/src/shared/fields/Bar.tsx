import { Flex } from '@chakra-ui/react'
import type { PropsWithChildren } from 'react'
import { Brand } from './Brand'

/** The top of each page: the name of the app, and what belongs to all of the page. */
export function Bar({ children, ...space }: PropsWithChildren<{ px?: string; gap?: string }>) {
  return (
    <Flex
      as="header"
      height="bar"
      flexShrink="0"
      px="4"
      gap="3"
      align="center"
      bg="card"
      borderBottomWidth="1px"
      borderColor="rule"
      {...space}
    >
      <Brand />
      {children}
    </Flex>
  )
}
