import { Field, Input } from '@chakra-ui/react'
import { type KeyboardEvent, useEffect, useRef, useState } from 'react'
import { asOneStep } from '../design/store'

interface Props<T> {
  label: string
  value: T
  show: (value: T) => string
  /** The value meant by a text, or a word about what is wrong with it. */
  read: (text: string) => { value: T } | { wrong: string }
  /** The value so many steps further. */
  step: (value: T, steps: number) => T
  /** `from`: the value it is a step on from; null where it was typed. */
  onChange: (value: T, from: T | null) => void
}

/** A value to type. A text that cannot be read is kept, with a word about it, and changes nothing. */
export function TypedField<T>({ label, value, show, read, step, onChange }: Props<T>) {
  const input = useRef<HTMLInputElement>(null)
  const [typed, setTyped] = useState<string | null>(null)
  const [wrong, setWrong] = useState('')
  const shown = show(value)

  function forget() {
    setTyped(null)
    setWrong('')
  }

  // Another value from outside (undo, another unit) replaces what could not be read, but nothing under the hand.
  // biome-ignore lint/correctness/useExhaustiveDependencies: shown is what it reacts to
  useEffect(() => {
    if (document.activeElement !== input.current) forget()
  }, [shown])

  // What is typed is taken before anything else is chosen: it is meant for what was chosen while it was typed.
  const isTyping = typed !== null
  useEffect(() => {
    if (!isTyping) return
    const leave = ({ target }: PointerEvent) => {
      if (target !== input.current) input.current?.blur()
    }
    document.addEventListener('pointerdown', leave, true)
    return () => document.removeEventListener('pointerdown', leave, true)
  }, [isTyping])

  function take() {
    if (typed === null) return
    const result = read(typed)
    if ('wrong' in result) {
      setWrong(result.wrong)
      return
    }
    forget()
    if (show(result.value) !== shown || typed !== shown) asOneStep(() => onChange(result.value, null))
  }

  function onKeyDown(event: KeyboardEvent) {
    if (event.key === 'Enter') take()
    else if (event.key === 'Escape') forget()
    else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      event.preventDefault()
      const result = typed === null ? { value } : read(typed)
      const size = event.shiftKey ? 10 : event.altKey ? 0.1 : 1
      forget()
      const by = event.key === 'ArrowUp' ? size : -size
      onChange(step('value' in result ? result.value : value, by), typed === null ? value : null)
    }
  }

  return (
    <Field.Root invalid={wrong !== ''} gap="1">
      <Field.Label srOnly>{label}</Field.Label>
      <Input
        ref={input}
        size="sm"
        bg="card"
        borderColor="edge"
        textAlign="right"
        fontVariantNumeric="tabular-nums"
        value={typed ?? shown}
        onFocus={(e) => e.target.select()}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={take}
        onKeyDown={onKeyDown}
        autoComplete="off"
        spellCheck={false}
      />
      {wrong && (
        <Field.ErrorText role="alert" color="knifeDeep">
          {wrong}
        </Field.ErrorText>
      )}
    </Field.Root>
  )
}

export const NOT_A_LENGTH = 'is not a length. Type a number with a unit, such as 40 mm, 7 in or 1/8 in.'

/** `value`, kept between the bounds and free of the dust of binary fractions. */
export function within(value: number, min: number, max: number): number {
  return Math.min(max, Math.max(min, Math.round(value * 1e6) / 1e6))
}
