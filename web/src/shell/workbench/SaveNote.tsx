import { Text } from '@chakra-ui/react'
import { useSaving } from '../../shared/design/autosave'
import type { SaveState } from '../../shared/design/saveQueue'

/** Where the design is kept at this moment, in a few words. */
export function SaveNote() {
  const state = useSaving((s) => s.state)
  const alarming = state.kind !== 'saved' && state.kind !== 'saving'
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
      {words(state)}
    </Text>
  )
}

function words(state: SaveState): string {
  switch (state.kind) {
    case 'saved':
      return `Saved ${clock(state.at)}`
    case 'saving':
      return 'Saving…'
    case 'conflict':
      return 'Changed in another window'
    case 'refused':
      return `Not saved: put right what is named below. ${state.drafted ? KEPT : NOT_KEPT}`
    case 'away':
      return state.drafted
        ? 'Not saved yet: the server is away. Work on; it is saved when the server is back.'
        : `The server is away. ${NOT_KEPT}`
    case 'failed':
      return `Not saved yet: something went wrong. It is tried again. ${state.drafted ? KEPT : NOT_KEPT}`
  }
}

const KEPT = 'It is kept in this browser.'
const NOT_KEPT = 'This browser has no room to keep it: leave this window open.'

const clock = (at: Date) => (sameDay(at) ? at.toLocaleTimeString([], TIME) : at.toLocaleDateString([], DAY))

const TIME = { hour: '2-digit', minute: '2-digit', hour12: false } as const
const DAY = { day: 'numeric', month: 'short' } as const
const sameDay = (at: Date) => at.toDateString() === new Date().toDateString()
