import { Button, Flex, Popover, Portal, Text } from '@chakra-ui/react'
import { Keyboard, Maximize, Minus, Plus } from 'lucide-react'
import { memo } from 'react'
import { Segments } from '../../shared/fields/Segments'
import { LOOKS, TRUE_SCALE, useView } from '../../shared/view/view'
import { Key } from './Key'
import { KEYS } from './keys'

/** Look and zoom, floating above the work. */
export const ViewControls = memo(function ViewControls() {
  const look = useView((s) => s.look)
  const { setLook, zoom, keepFitted, trueSize } = useView.getState()
  return (
    <Flex position="absolute" top="9" right="4" gap="2.5" align="center">
      <Segments label="Look" value={look} options={LOOKS} onChange={setLook} />
      <Flex bg="card" borderWidth="1px" borderColor="rule" borderRadius="md" height="8" overflow="hidden">
        <Tool label="Further away" onClick={() => zoom(0.8)}>
          <Minus size={16} />
        </Tool>
        <Tool label="True size on this screen" onClick={trueSize} wide>
          <Zoom />
        </Tool>
        <Tool label="Nearer" onClick={() => zoom(1.25)}>
          <Plus size={16} />
        </Tool>
        <Tool label="Fit in the window" onClick={keepFitted}>
          <Maximize size={15} />
        </Tool>
        <KeysNote />
      </Flex>
    </Flex>
  )
})

function Zoom() {
  const percent = useView((s) => Math.round((s.scale / TRUE_SCALE) * 100))
  return (
    <Text as="span" fontVariantNumeric="tabular-nums">
      {percent} %
    </Text>
  )
}

interface ToolProps {
  label: string
  wide?: boolean
  onClick?: () => void
  children: React.ReactNode
}

function Tool({ label, wide, ...rest }: ToolProps) {
  return (
    <Button
      aria-label={label}
      title={label}
      variant="ghost"
      size="sm"
      height="full"
      minWidth={wide ? '58px' : '34px'}
      px="0"
      borderRadius="0"
      fontWeight="550"
      _hover={{ bg: 'paper' }}
      {...rest}
    />
  )
}

function KeysNote() {
  return (
    <Popover.Root positioning={{ placement: 'bottom-end' }}>
      <Popover.Trigger asChild>
        <Button
          aria-label="Keys"
          title="Keys"
          variant="ghost"
          size="sm"
          height="full"
          minWidth="34px"
          px="0"
          borderRadius="0"
          _hover={{ bg: 'paper' }}
        >
          <Keyboard size={17} />
        </Button>
      </Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content width="340px" bg="card">
            <Popover.Body>
              <Text fontWeight="650" mb="2">
                Keys
              </Text>
              {KEYS.map(({ keys, does }) => (
                <Flex key={keys} justify="space-between" gap="3" py="1">
                  <Text color="softInk">{does}</Text>
                  <Key alignSelf="start">{keys}</Key>
                </Flex>
              ))}
            </Popover.Body>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  )
}
