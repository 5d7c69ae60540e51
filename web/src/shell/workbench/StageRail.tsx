import { chakra, Flex, Text } from '@chakra-ui/react'
import { memo, type ReactNode } from 'react'
import { usePanel } from '../../shared/fields/Panel'
import { type Stage as StageKey, useView } from '../../shared/view/view'

/** The stages of the work in their order. */
export const STAGES: readonly { key: StageKey; name: string; mark: ReactNode }[] = [
  { key: 'letter', name: 'Letter', mark: <LetterMark /> },
  { key: 'join', name: 'Join', mark: <JoinMark /> },
  { key: 'build', name: 'Build', mark: <BuildMark /> },
  { key: 'check', name: 'Check', mark: <CheckMark /> },
  { key: 'cut', name: 'Cut', mark: <CutMark /> },
]

const Stage = chakra('button', {
  base: {
    py: '3',
    display: 'grid',
    justifyItems: 'center',
    gap: '1.5',
    borderLeftWidth: '3px',
    borderColor: 'transparent',
    cursor: 'pointer',
    _hover: { color: 'card' },
    '&[aria-current=step]': { bg: 'inkRaised', borderColor: 'knife', color: 'card' },
  },
})

export const StageRail = memo(function StageRail() {
  const stage = useView((s) => s.stage)
  const setStage = useView((s) => s.setStage)
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
      {STAGES.map(({ key, name, mark }) => (
        <Stage
          key={key}
          type="button"
          aria-current={stage === key ? 'step' : undefined}
          onClick={() => {
            usePanel.getState().fold(false)
            setStage(key)
          }}
        >
          {mark}
          <Text fontSize="sm" fontWeight="600">
            {name}
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

/** Two strokes that run into each other. */
function JoinMark() {
  return (
    <svg width="30" height="30" viewBox="0 0 30 30" aria-hidden="true" fill="none" strokeLinecap="round">
      <path d="M3 11C4 20 11 24 15 18" stroke="currentColor" strokeWidth="2.2" />
      <path d="M15 18C17 9 24 5 27 13" stroke="currentColor" strokeWidth="2.2" />
      <path d="M11.5 14.5l7 7" stroke="var(--chakra-colors-knife)" strokeWidth="2" />
    </svg>
  )
}

/** A word's line across a ring. */
function BuildMark() {
  return (
    <svg width="30" height="30" viewBox="0 0 30 30" aria-hidden="true" fill="none" strokeLinecap="round">
      <circle cx="15" cy="15" r="11" stroke="currentColor" strokeWidth="2.2" />
      <path d="M4.5 15h21" stroke="var(--chakra-colors-knife)" strokeWidth="2.2" />
    </svg>
  )
}

/** An outline under a loupe, with one spot marked. */
function CheckMark() {
  return (
    <svg width="30" height="30" viewBox="0 0 30 30" aria-hidden="true" fill="none" strokeLinecap="round">
      <path d="M3 21C7 8 13 8 15 15s7 7 12-5" stroke="currentColor" strokeWidth="2.2" />
      <circle cx="15" cy="15" r="6.5" stroke="var(--chakra-colors-knife)" strokeWidth="2" />
    </svg>
  )
}

/** A sheet, and the knife's line through it. */
function CutMark() {
  return (
    <svg width="30" height="30" viewBox="0 0 30 30" aria-hidden="true" fill="none" strokeLinecap="round">
      <path d="M4 7h22v16H4z" stroke="currentColor" strokeWidth="2.2" strokeDasharray="4 3.4" />
      <path d="M11 21L21 9" stroke="var(--chakra-colors-knife)" strokeWidth="2.4" />
    </svg>
  )
}
