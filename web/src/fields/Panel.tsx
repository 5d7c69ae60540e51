import { Flex, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'

interface PanelProps {
  name: string
  wide?: boolean
  children: ReactNode
}

/** The panel of a stage, left of the work. */
export function Panel({ name, wide, children }: PanelProps) {
  return (
    <Flex
      as="aside"
      aria-label={name}
      direction="column"
      width={wide ? 'picker' : 'panel'}
      flexShrink="0"
      bg="card"
      borderRightWidth="1px"
      borderColor="rule"
      minHeight="0"
    >
      {children}
    </Flex>
  )
}

/** A part of a panel under a heading. */
export function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Flex
      as="section"
      direction="column"
      gap="2.5"
      px="4"
      py="3.5"
      borderBottomWidth="1px"
      borderColor="rule"
    >
      <Text as="h2" fontSize="lg" fontWeight="700" letterSpacing="-0.01em" lineHeight="1.2">
        {title}
      </Text>
      {children}
    </Flex>
  )
}

/** A word on the left and its field on the right. */
export function Row({ label, children }: { label: ReactNode; children: ReactNode }) {
  return (
    <Flex justify="space-between" gap="3">
      <Text pt="2">{label}</Text>
      <Flex width="132px" flexShrink="0" direction="column">
        {children}
      </Flex>
    </Flex>
  )
}
