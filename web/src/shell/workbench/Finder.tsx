import { Box, Button, chakra, Dialog, Flex, Input, Portal, Text } from '@chakra-ui/react'
import { Search } from 'lucide-react'
import { type KeyboardEvent, useEffect, useId, useMemo, useRef, useState } from 'react'
import { create } from 'zustand'
import { ACTIONS, type Action } from './actions'
import { ranked } from './find'
import { Key } from './Key'

export const useFinder = create<{ open: boolean }>()(() => ({ open: false }))

export const openFinder = () => useFinder.setState({ open: true })
const close = () => useFinder.setState({ open: false })

/** Opens the list of all actions. */
export function FinderButton() {
  return (
    <Button size="sm" variant="outline" color="softInk" fontWeight="500" onClick={openFinder}>
      <Search size={16} />
      Find an action
      <Key>Ctrl K</Key>
    </Button>
  )
}

/** Any action, found by typing a few letters of what it does, with its key; and done from here. */
export function Finder() {
  const open = useFinder((s) => s.open)
  return (
    <Dialog.Root open={open} onOpenChange={(e) => !e.open && close()} placement="top" lazyMount unmountOnExit>
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content aria-label="Find an action" bg="card" maxWidth="560px" mt="20">
            <Found />
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  )
}

function Found() {
  const [typed, setTyped] = useState('')
  const [at, setAt] = useState(0)
  const id = useId()
  const list = useRef<HTMLDivElement>(null)
  const rows = useMemo(
    () =>
      ranked(ACTIONS, typed)
        .map((action) => ({ action, whyNot: action.whyNot?.() ?? null }))
        // What can be done now comes first.
        .toSorted((a, b) => Number(a.whyNot !== null) - Number(b.whyNot !== null)),
    [typed],
  )
  const chosen = rows[Math.min(at, rows.length - 1)]

  useEffect(() => {
    list.current?.querySelector(`[id="${id}-${at}"]`)?.scrollIntoView({ block: 'nearest' })
  }, [at, id])

  function take(row: (typeof rows)[number] | undefined) {
    if (!row || row.whyNot) return
    close()
    // The list is gone, and the focus is free, before the action begins.
    setTimeout(row.action.run)
  }

  function onKeyDown(event: KeyboardEvent) {
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 8, PageUp: -8 }[event.key]
    if (step !== undefined) {
      event.preventDefault()
      setAt(Math.max(0, Math.min(rows.length - 1, at + step)))
    } else if (event.key === 'Enter') {
      event.preventDefault()
      take(chosen)
    }
  }

  return (
    <Flex direction="column" maxHeight="440px" onKeyDown={onKeyDown}>
      <Box p="3" borderBottomWidth="1px" borderColor="rule">
        <Input
          role="combobox"
          aria-label="What do you want to do?"
          aria-expanded
          aria-controls={id}
          aria-activedescendant={chosen ? `${id}-${rows.indexOf(chosen)}` : undefined}
          placeholder="What do you want to do?"
          value={typed}
          onChange={(e) => {
            setTyped(e.target.value)
            setAt(0)
          }}
          size="lg"
          fontSize="lg"
          borderColor="edge"
          autoFocus
          autoComplete="off"
          spellCheck={false}
        />
      </Box>
      <Box ref={list} id={id} role="listbox" aria-label="Actions" overflowY="auto" py="1.5" minHeight="0">
        {rows.map((row, n) => (
          <Line
            key={row.action.does}
            id={`${id}-${n}`}
            action={row.action}
            whyNot={row.whyNot}
            chosen={row === chosen}
            onPoint={() => setAt(n)}
            onTake={() => take(row)}
          />
        ))}
        {rows.length === 0 && (
          <Text color="softInk" px="4" py="3">
            Nothing is called so. Try another word for it.
          </Text>
        )}
      </Box>
    </Flex>
  )
}

const Row = chakra('div', {
  base: {
    display: 'flex',
    alignItems: 'center',
    gap: '3',
    px: '4',
    py: '1.5',
    minHeight: '9',
    cursor: 'pointer',
    '&[aria-selected=true]': { bg: 'paper' },
    '&[aria-disabled=true]': { cursor: 'default', color: 'softInk' },
  },
})

interface LineProps {
  id: string
  action: Action
  whyNot: string | null
  chosen: boolean
  onPoint: () => void
  onTake: () => void
}

function Line({ id, action, whyNot, chosen, onPoint, onTake }: LineProps) {
  return (
    <Row
      id={id}
      role="option"
      aria-selected={chosen}
      aria-disabled={whyNot !== null}
      onPointerMove={onPoint}
      onClick={onTake}
    >
      <Text width="52px" flexShrink="0" fontSize="sm" color="softInk">
        {action.where}
      </Text>
      <Box flex="1" minWidth="0">
        <Text fontWeight="550">{action.does}</Text>
        {whyNot && <Text fontSize="sm">{whyNot}</Text>}
      </Box>
      {action.keys && <Key>{action.keys}</Key>}
    </Row>
  )
}
