import { Text } from '@chakra-ui/react'
import { useSaveState } from '../design/autosave'

/** Where the design is kept at this moment, in a few words. */
export function SaveNote() {
  const state = useSaveState((s) => s.state)
  const alarming = state.kind === 'away' || state.kind === 'refused' || state.kind === 'conflict'
  return (
    <Text
      role="status"
      data-save={state.kind}
      fontSize="sm"
      color={alarming ? 'knifeDeep' : 'softInk'}
      fontWeight={alarming ? '600' : '400'}
      truncate
      minWidth="0"
    >
      {WORDS[state.kind](state.kind === 'saved' ? state.at : new Date())}
    </Text>
  )
}

const WORDS = {
  saved: (at: Date) =>
    `Saved ${sameDay(at) ? at.toLocaleTimeString([], TIME) : at.toLocaleDateString([], DAY)}`,
  saving: () => 'Saving…',
  away: () => 'Not saved yet: the server is away. Work on; it is saved when the server is back.',
  refused: () => 'Not saved: put right what is named below. It is kept in this browser.',
  conflict: () => 'Changed in another window',
}

const TIME = { hour: '2-digit', minute: '2-digit', hour12: false } as const
const DAY = { day: 'numeric', month: 'short' } as const
const sameDay = (at: Date) => at.toDateString() === new Date().toDateString()
