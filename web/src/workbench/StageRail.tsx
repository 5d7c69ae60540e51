import { chakra, Flex, Text } from '@chakra-ui/react'
import { memo } from 'react'

/** The stages of the work in their order; those that are built. */
const STAGES = [{ key: 'letter', name: 'Letter' }] as const

const Stage = chakra('button')

export const StageRail = memo(function StageRail() {
  return (
    <Flex
      as="nav"
      aria-label="Stages"
      direction="column"
      width="rail"
      flexShrink="0"
      bg="ink"
      color="railInk"
      pt="2"
    >
      {STAGES.map((stage) => (
        <Stage
          key={stage.key}
          aria-current="step"
          py="3"
          display="grid"
          justifyItems="center"
          gap="1.5"
          bg="inkRaised"
          borderLeftWidth="3px"
          borderColor="knife"
          color="card"
        >
          <LetterMark />
          <Text fontSize="sm" fontWeight="600">
            {stage.name}
          </Text>
        </Stage>
      ))}
    </Flex>
  )
})

/** A letter on its baseline. */
function LetterMark() {
  return (
    <svg width="30" height="30" viewBox="0 0 30 30" aria-hidden="true" fill="none" strokeLinecap="round">
      <path d="M3 24h24" stroke="var(--chakra-colors-knife)" strokeWidth="2" />
      <path
        d="M8 20C9 12 13 5 17 5s2 8-4 11c4-3 8-2 8 1 0 2 2 3 3 2"
        stroke="currentColor"
        strokeWidth="2.2"
      />
    </svg>
  )
}
