import { Box, NativeSelect, Textarea } from '@chakra-ui/react'
import { memo, useEffect, useRef } from 'react'
import { useShallow } from 'zustand/react/shallow'
import { limitsOf } from '../../shared/api/model'
import { withTypedText } from '../../shared/design/letters'
import { partName } from '../../shared/design/partNames'
import type { Lettering, Recipe } from '../../shared/design/recipe'
import { useSelection } from '../../shared/design/selection'
import { endStep, partNow, useDesign, usePart } from '../../shared/design/store'
import { FilmField } from '../../shared/fields/FilmField'
import { NumberRow } from '../../shared/fields/NumberRow'
import { Panel, Section } from '../../shared/fields/Panel'
import { Segments } from '../../shared/fields/Segments'
import { Notes, type Troubles } from '../../shared/notes/Notes'
import { useAsking, useFacePicking } from '../../shared/view/askForWords'
import { CourseFields } from './CourseFields'
import { FaceButton } from './FaceButton'
import { FacePicker } from './FacePicker'
import { SizeFields } from './SizeFields'
import { SpacingFields } from './SpacingFields'
import { ThickenFields } from './ThickenFields'

/** The Letter stage: words, face, size, spacing and film. */
export const LetterPanel = memo(function LetterPanel(troubles: Troubles) {
  const picking = useFacePicking((s) => s.open)
  const pick = (open: boolean) => useFacePicking.setState({ open })
  // Another stage closes the list.
  useEffect(() => () => useFacePicking.setState({ open: false }), [])
  if (picking)
    return (
      <Panel name="Letter" wide>
        <FacePicker onDone={closePicker} />
      </Panel>
    )
  return (
    <Panel name="Letter">
      <Box overflowY="auto" flex="1" minHeight="0">
        <Notes {...troubles} />
        <Section title="Words">
          <PartChoice />
          <Words />
        </Section>
        <Section title="Face">
          <FaceButton onOpen={() => pick(true)} />
        </Section>
        <Section title="Size">
          <SizeFields />
        </Section>
        <Section title="Spacing">
          <SpacingFields />
        </Section>
        <Section title="Along a line">
          <CourseFields />
        </Section>
        <Section title="Strokes and shape">
          <ThickenFields />
          <ShapeOfLetters />
        </Section>
        <Section title="Film">
          <FilmField />
        </Section>
      </Box>
    </Panel>
  )
})

const closePicker = () => useFacePicking.setState({ open: false, closed: true })

/** How wide letters are drawn, and how far they lean. */
function ShapeOfLetters() {
  const stretch = usePart((part) => part.stretch ?? 1)
  const slant = usePart((part) => part.slant ?? 0)
  const edit = useDesign((s) => s.edit)
  return (
    <>
      <NumberRow
        label="Width of the letters"
        sign="%"
        value={stretch * 100}
        min={50}
        max={200}
        onChange={(percent) => edit({ stretch: percent / 100 })}
      />
      <NumberRow
        label="Slant to the right"
        sign="°"
        value={slant}
        {...limitsOf('Lettering', 'slant')}
        onChange={(degrees) => edit({ slant: degrees })}
      />
    </>
  )
}

/** A design with several letterings: which one the panel edits. */
function PartChoice() {
  const parts = useDesign(useShallow((s) => s.recipe.parts.filter((part) => part.kind === 'lettering')))
  const partId = useSelection((s) => s.selection.part)
  const choosePart = useSelection((s) => s.choosePart)
  if (parts.length < 2) return null
  if (parts.length > 4) return <PartMenu parts={parts} value={partId} onChange={choosePart} />
  const options = parts.map((part, index) => ({
    value: part.id,
    label: part.text.trim().slice(0, 10) || String(index + 1),
  }))
  return <Segments label="Lettering" value={partId} options={options} onChange={choosePart} fill />
}

interface Menu {
  parts: readonly Lettering[]
  value: string
  onChange: (part: string) => void
}

function PartMenu({ parts, value, onChange }: Menu) {
  return (
    <NativeSelect.Root size="sm">
      <NativeSelect.Field
        aria-label="Lettering"
        value={value}
        bg="card"
        borderColor="edge"
        onChange={(e) => onChange(e.target.value)}
      >
        {parts.map((part) => (
          <option key={part.id} value={part.id}>
            {partName(part)}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  )
}

function Words() {
  const text = usePart((part) => part.text)
  const id = useDesign((s) => s.id)
  const field = useRef<HTMLTextAreaElement>(null)
  /** The design as it was before what is being typed, and as typing left it last. */
  const typing = useRef<{ before: Recipe; last: Recipe } | null>(null)
  const wanted = useAsking((s) => s.wanted)
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each design, and when it is asked for
  useEffect(() => {
    if (text === '' || wanted) field.current?.focus()
    if (!wanted) return
    field.current?.select()
    useAsking.setState({ wanted: false })
  }, [id, wanted])
  return (
    <Textarea
      ref={field}
      aria-label="Words"
      dir="auto"
      value={text}
      onChange={(e) => {
        const { recipe, editRecipe } = useDesign.getState()
        const before = typing.current?.last === recipe ? typing.current.before : recipe
        editRecipe(withTypedText(recipe, before, partNow().id, e.target.value))
        typing.current = { before, last: useDesign.getState().recipe }
      }}
      onBlur={() => {
        typing.current = null
        endStep()
      }}
      placeholder="Type a name"
      rows={Math.min(5, Math.max(2, text.split('\n').length))}
      fontSize="xl"
      lineHeight="1.35"
      px="3"
      bg="card"
      borderColor="edge"
      resize="none"
      spellCheck={false}
      autoComplete="off"
    />
  )
}
