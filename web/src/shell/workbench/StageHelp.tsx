import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { memo } from 'react'
import { create } from 'zustand'
import { persist } from 'zustand/middleware'
import { type Stage, useView } from '../../shared/view/view'
import { STAGES } from './StageRail'

const SAYS: Record<Stage, string> = {
  letter: 'Type a name and choose how it looks. What you see is what the knife will follow.',
  join: 'One button joins all letters, and every seam is measured. Drag a letter, or click a seam to change how it joins.',
  build:
    'Lay shapes, frames and drawings with the words. Choose two parts with Shift, to weld them or to cut one out.',
  check:
    'What would tear or get lost is ringed on the work. “Make it ready” mends all of it, and shows you what.',
  cut: 'Your films as sheets, to scale. Say how many, look through the list, then save files or start the machine.',
}

/** The stages whose help was put away, for good. */
const usePutAway = create<{ stages: Stage[]; putAway: (stage: Stage) => void }>()(
  persist((set) => ({ stages: [], putAway: (stage) => set((s) => ({ stages: [...s.stages, stage] })) }), {
    name: 'fulgen-help',
  }),
)

/** What the stage is for, in a line under the work, until it is put away. */
export const StageHelp = memo(function StageHelp() {
  const stage = useView((s) => s.stage)
  const { stages, putAway } = usePutAway()
  const mark = STAGES.find(({ key }) => key === stage)?.mark
  if (stages.includes(stage)) return null
  return (
    <Flex
      as="section"
      aria-label="What this stage is for"
      align="center"
      gap="3"
      px="4"
      // As high for every stage, so that nothing moves when the stage does.
      height="help"
      bg="thinTint"
      borderTopWidth="1px"
      borderColor="rule"
      flexShrink="0"
    >
      <Box flexShrink="0">{mark}</Box>
      <Text flex="1">{SAYS[stage]}</Text>
      <Button size="sm" variant="outline" bg="card" onClick={() => putAway(stage)}>
        Got it
      </Button>
    </Flex>
  )
})
