import { chakra, Flex, Text } from '@chakra-ui/react'
import { ChevronRight } from 'lucide-react'
import { useEffect, useRef } from 'react'
import { nounOf } from '../../shared/design/counted'
import type { FaceOut } from '../../shared/design/recipe'
import { asOneStep, partNow, useDesign, usePart } from '../../shared/design/store'
import { usePartView } from '../../shared/evaluation/store'
import { useFaces, useSample, useSamplesAhead, useSettledWords } from '../../shared/faces/useFaces'
import { Segments } from '../../shared/fields/Segments'
import { Slide } from '../../shared/fields/Slide'
import { useFacePicking } from '../../shared/view/askForWords'
import { useRecentFaces } from '../../shared/view/view'
import { facesInSight } from './FaceList'
import { Features } from './Features'
import { ANY, facesToShow } from './faceChoice'
import { SampleDrawing } from './SampleDrawing'

const Opener = chakra('button')

/** The face in use, which opens the list of faces; and what this face can be told. */
export function FaceButton({ onOpen }: { onOpen: () => void }) {
  const family = usePart((part) => part.face.family)
  const faces = useFaces()
  const face = faces.find((f) => f.slug === family || f.name.toLowerCase() === family.toLowerCase())
  const askAhead = useSamplesAhead()
  const opener = useRef<HTMLButtonElement>(null)
  // Whoever points at it is about to open it: the first words are drawn meanwhile.
  function prepare() {
    const order = { recent: useRecentFaces.getState().slugs, able: undefined, like: undefined, system: '' }
    const first = facesInSight(facesToShow(faces, ANY, order), family)
    askAhead(
      partNow().text,
      first.map(({ slug }) => slug),
    )
  }
  useEffect(() => {
    if (!useFacePicking.getState().closed) return
    useFacePicking.setState({ closed: false })
    opener.current?.focus()
  }, [])
  return (
    <>
      <Opener
        ref={opener}
        type="button"
        onClick={onOpen}
        onFocus={prepare}
        onPointerEnter={prepare}
        aria-label={`Face: ${face?.name ?? family}. Choose another`}
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
        <WordInFace slug={face?.slug ?? ''} />
        <Flex justify="space-between" align="center" mt="2" color="softInk">
          <Text fontWeight="600" color="ink">
            {face?.name ?? family}
          </Text>
          <Flex align="center" fontSize="sm">
            all faces <ChevronRight size={16} />
          </Flex>
        </Flex>
      </Opener>
      <LostShapes name={face?.name ?? family} />
      {face && <Weight face={face} />}
      {face && <OtherAxes face={face} />}
      {face && face.features.length > 0 && <Features face={face} />}
    </>
  )
}

/** Another face lacks what was chosen for single letters: said, and kept for a face that has it. */
function LostShapes({ name }: { name: string }) {
  const lost = usePartView()?.made?.lost_shapes ?? []
  if (lost.length === 0) return null
  return (
    <Text role="status" fontSize="sm" bg="thinTint" borderRadius="sm" px="3" py="2">
      {name} has no other shape for {lost.join(', ')}: {nounOf(lost.length, 'it stands', 'they stand')} as the
      face sets {nounOf(lost.length, 'it', 'them')}. Your choice is kept for a face that has it.
    </Text>
  )
}

function WordInFace({ slug }: { slug: string }) {
  const text = usePart((part) => part.text)
  return <SampleDrawing sample={useSample(useSettledWords(text), slug)} height={38} />
}

interface Props {
  face: FaceOut
}

const WEIGHT_NAMES: Record<number, string> = { 200: 'Light', 400: 'Regular', 700: 'Bold' }

function Weight({ face }: Props) {
  const edit = useDesign((s) => s.edit)
  const weight = usePart((part) => part.face.weight)
  const axis = face.axes.find((a) => a.tag === 'wght')
  const setWeight = (chosen: number) => edit({ face: { ...partNow().face, weight: chosen } })
  if (axis)
    return (
      <Slide
        name="Weight"
        min={axis.low}
        max={axis.high}
        step={10}
        value={weight ?? axis.default}
        onChange={setWeight}
      />
    )
  if (face.weights.length < 2) return null
  const options = face.weights.map((w) => ({ value: String(w), label: WEIGHT_NAMES[w] ?? String(w) }))
  const usual = face.weights.includes(400) ? 400 : face.weights[0]
  return (
    <Segments
      label="Weight"
      value={String(weight ?? usual)}
      options={options}
      onChange={(w) => {
        asOneStep(() => setWeight(Number(w)))
      }}
      fill
    />
  )
}

function OtherAxes({ face }: Props) {
  const edit = useDesign((s) => s.edit)
  const axes = usePart((part) => part.face.axes ?? {})
  return face.axes
    .filter((axis) => axis.tag !== 'wght')
    .map((axis) => (
      <Slide
        key={axis.tag}
        name={axis.name}
        min={axis.low}
        max={axis.high}
        step={(axis.high - axis.low) / 100}
        value={axes[axis.tag] ?? axis.default}
        onChange={(value) => edit({ face: { ...partNow().face, axes: { ...axes, [axis.tag]: value } } })}
      />
    ))
}
