import { Box, Flex, Text } from '@chakra-ui/react'
import { ChevronLeft, ChevronRight } from 'lucide-react'
import type { ReactNode } from 'react'
import { create } from 'zustand'
import { persist } from 'zustand/middleware'
import { IconTool } from './IconTool'

interface PanelProps {
  name: string
  wide?: boolean
  children: ReactNode
}

/** The panel of a stage, left of the work. */
export function Panel({ name, wide, children }: PanelProps) {
  const { folded, fold } = usePanel()
  if (folded && !wide)
    return (
      <Flex
        as="aside"
        aria-label={name}
        width="fold"
        flexShrink="0"
        bg="card"
        borderRightWidth="1px"
        borderColor="rule"
      >
        <Fold name="Show the panel" onClick={() => fold(false)}>
          <ChevronRight size={18} />
        </Fold>
      </Flex>
    )
  return (
    <Flex
      as="aside"
      aria-label={name}
      position="relative"
      direction="column"
      width={wide ? 'picker' : { base: 'panel', '2xl': 'panelWide' }}
      flexShrink="0"
      bg="card"
      borderRightWidth="1px"
      borderColor="rule"
      minHeight="0"
    >
      {children}
      {!wide && (
        <Box position="absolute" top="2" right="1" hideFrom="xl">
          <Fold name="Fold the panel away" onClick={() => fold(true)}>
            <ChevronLeft size={18} />
          </Fold>
        </Box>
      )}
    </Flex>
  )
}

/** Whether the panel is folded away, for the work to have the room; kept in this browser. */
export const usePanel = create<{ folded: boolean; fold: (folded: boolean) => void }>()(
  persist((set) => ({ folded: false, fold: (folded) => set({ folded }) }), { name: 'fulgen-panel' }),
)

function Fold(props: { name: string; onClick: () => void; children: ReactNode }) {
  return <IconTool size="sm" variant="ghost" minWidth="finger" height="finger" {...props} />
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
