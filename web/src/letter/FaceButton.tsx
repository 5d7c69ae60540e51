import { Button, chakra, Flex, Slider, Switch, Text } from '@chakra-ui/react'
import { ChevronDown, ChevronRight } from 'lucide-react'
import { useState } from 'react'
import type { FaceOut, Lettering } from '../design/recipe'
import { endStep, useDesign, usePart } from '../design/store'
import { Segments } from '../parts/Segments'
import { SampleDrawing } from './SampleDrawing'
import { useFaces, useSamples } from './useFaces'

const Opener = chakra('button')

/** The face in use, which opens the list of faces; and what this face can be told. */
export function FaceButton({ onOpen }: { onOpen: () => void }) {
  const part = usePart()
  const face = useFaces().find(
    (f) => f.slug === part.face.family || f.name.toLowerCase() === part.face.family.toLowerCase(),
  )
  const sample = useSamples(part.text).get(face?.slug ?? '')
  return (
    <>
      <Opener
        type="button"
        onClick={onOpen}
        aria-label={`Face: ${face?.name ?? part.face.family}. Choose another`}
        textAlign="left"
        px="3"
        pt="2.5"
        pb="2"
        borderWidth="1px"
        borderColor="edge"
        borderRadius="md"
        bg="card"
        cursor="pointer"
        _hover={{ borderColor: 'ink' }}
      >
        <SampleDrawing sample={sample} height={38} />
        <Flex justify="space-between" align="center" mt="2" color="softInk">
          <Text fontWeight="600" color="ink">
            {face?.name ?? part.face.family}
          </Text>
          <Flex align="center" fontSize="sm">
            all faces <ChevronRight size={16} />
          </Flex>
        </Flex>
      </Opener>
      {face && <Weight part={part} face={face} />}
      {face && <OtherAxes part={part} face={face} />}
      {face && face.features.length > 0 && <Features part={part} face={face} />}
    </>
  )
}

interface Props {
  part: Lettering
  face: FaceOut
}

const WEIGHT_NAMES: Record<number, string> = { 200: 'Light', 400: 'Regular', 700: 'Bold' }

function Weight({ part, face }: Props) {
  const edit = useDesign((s) => s.edit)
  const axis = face.axes.find((a) => a.tag === 'wght')
  const setWeight = (weight: number) => edit({ face: { ...part.face, weight } })
  if (axis)
    return (
      <AxisSlider
        name="Weight"
        low={axis.low}
        high={axis.high}
        step={10}
        value={part.face.weight ?? axis.usual}
        onChange={setWeight}
      />
    )
  if (face.weights.length < 2) return null
  const options = face.weights.map((w) => ({ value: String(w), label: WEIGHT_NAMES[w] ?? String(w) }))
  const usual = face.weights.includes(400) ? 400 : face.weights[0]
  return (
    <Segments
      label="Weight"
      value={String(part.face.weight ?? usual)}
      options={options}
      onChange={(w) => {
        endStep()
        setWeight(Number(w))
      }}
      fill
    />
  )
}

function OtherAxes({ part, face }: Props) {
  const edit = useDesign((s) => s.edit)
  return face.axes
    .filter((axis) => axis.tag !== 'wght')
    .map((axis) => (
      <AxisSlider
        key={axis.tag}
        name={axis.name}
        low={axis.low}
        high={axis.high}
        step={(axis.high - axis.low) / 100}
        value={part.face.axes?.[axis.tag] ?? axis.usual}
        onChange={(value) => edit({ face: { ...part.face, axes: { ...part.face.axes, [axis.tag]: value } } })}
      />
    ))
}

interface AxisProps {
  name: string
  low: number
  high: number
  step: number
  value: number
  onChange: (value: number) => void
}

function AxisSlider({ name, low, high, step, value, onChange }: AxisProps) {
  return (
    <Slider.Root
      size="sm"
      min={low}
      max={high}
      step={step}
      value={[Math.min(high, Math.max(low, value))]}
      onValueChange={(e) => e.value[0] !== undefined && onChange(e.value[0])}
      onValueChangeEnd={endStep}
      aria-label={[name]}
    >
      <Flex justify="space-between" fontSize="sm">
        <Slider.Label fontSize="sm">{name}</Slider.Label>
        <Slider.ValueText fontVariantNumeric="tabular-nums" />
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

/** What the face can do with letters, in plain words; closed until wanted. */
function Features({ part, face }: Props) {
  const [open, setOpen] = useState(false)
  const edit = useDesign((s) => s.edit)
  const chosen = part.features ?? {}
  const changed = face.features.filter((f) => (chosen[f.tag] ?? f.usual) !== f.usual).length
  return (
    <>
      <Button
        variant="plain"
        size="sm"
        px="0"
        height="6"
        justifyContent="flex-start"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        {open ? <ChevronDown size={16} /> : <ChevronRight size={16} />}
        What this face can do
        {changed > 0 && <Text color="softInk">({changed} changed)</Text>}
      </Button>
      {open &&
        face.features.map((feature) => (
          <Switch.Root
            key={feature.tag}
            size="sm"
            display="flex"
            justifyContent="space-between"
            checked={chosen[feature.tag] ?? feature.usual}
            onCheckedChange={({ checked }) => {
              endStep()
              edit({ features: { ...chosen, [feature.tag]: checked } })
            }}
          >
            <Switch.Label fontSize="sm" fontWeight="450">
              {feature.name}
            </Switch.Label>
            <Switch.HiddenInput />
            <Switch.Control _checked={{ bg: 'hold' }} flexShrink="0" />
          </Switch.Root>
        ))}
    </>
  )
}
