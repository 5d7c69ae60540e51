import { Flex, Slider } from '@chakra-ui/react'
import { endStep } from '../design/store'

interface Props {
  name: string
  min: number
  max: number
  step: number
  value: number
  onChange: (value: number) => void
  /** What the two ends mean, instead of a figure. */
  ends?: readonly [string, string]
}

/** A value between two ends, changed as it is dragged: one step to undo. */
export function Slide({ name, min, max, step, value, onChange, ends }: Props) {
  return (
    <Slider.Root
      size="sm"
      min={min}
      max={max}
      step={step}
      value={[Math.min(max, Math.max(min, value))]}
      onValueChange={(e) => e.value[0] !== undefined && onChange(e.value[0])}
      onValueChangeEnd={endStep}
      aria-label={[name]}
    >
      <Flex justify="space-between" fontSize="sm">
        {ends ? (
          <>
            <span>{ends[0]}</span>
            <span>{ends[1]}</span>
          </>
        ) : (
          <>
            <Slider.Label fontSize="sm">{name}</Slider.Label>
            <Slider.ValueText fontVariantNumeric="tabular-nums" />
          </>
        )}
      </Flex>
      <Slider.Control>
        <Slider.Track bg="rule">
          <Slider.Range bg="ink" />
        </Slider.Track>
        <Slider.Thumb index={0} borderColor="ink" bg="card" />
      </Slider.Control>
    </Slider.Root>
  )
}
