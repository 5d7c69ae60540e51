import { Box, Button, Field, Input, Text } from '@chakra-ui/react'
import { memo, useEffect } from 'react'
import { partName } from '../../shared/design/partNames'
import { findPart, type Part } from '../../shared/design/recipe'
import { selectionNow, useChosenParts, useSelection } from '../../shared/design/selection'
import { endStep, useDesign } from '../../shared/design/store'
import { useIsShown, useLaterEvaluation } from '../../shared/evaluation/store'
import { FilmColour } from '../../shared/fields/FilmField'
import { Panel, Section } from '../../shared/fields/Panel'
import { Notes, type Troubles } from '../../shared/notes/Notes'
import { AddRow } from './AddRow'
import { Arrange } from './Arrange'
import { makeFrame } from './actions'
import { DrawingPicker } from './DrawingPicker'
import { FrameLibrary } from './FrameLibrary'
import { groundOf } from './ground'
import { KindFields } from './KindFields'
import { Operations } from './Operations'
import { OrnamentPicker } from './OrnamentPicker'
import { PartsList } from './PartsList'
import { PhotoSection } from './PhotoSection'
import { PartActions, PlaceFields, SeveralActions } from './PlaceFields'
import { isFramed, onLevel, showsTheSame, topOf } from './parts'
import { ShapeLibrary } from './ShapeLibrary'
import { useBuild } from './store'
import { UseField } from './UseField'

/** The Build stage: parts, what they are made into, and where they lie. */
export const BuildPanel = memo(function BuildPanel(troubles: Troubles) {
  const picker = useBuild((s) => s.picker)
  useEffect(startOnTheWork, [])
  // What is in hand is put down with the stage.
  useEffect(() => () => useBuild.getState().handlePhoto(null), [])
  if (picker)
    return (
      <Panel name="Build" wide>
        {picker === 'frames' && <FrameLibrary />}
        {picker === 'shapes' && <ShapeLibrary />}
        {picker === 'ornaments' && <OrnamentPicker />}
        {picker === 'drawing' && <DrawingPicker />}
      </Panel>
    )
  return (
    <Panel name="Build">
      <Box overflowY="auto" flex="1" minHeight="0">
        <Notes {...troubles} />
        <Section title="Parts">
          <Level />
          <PartsList />
          <AddRow />
        </Section>
        <Chosen />
        <PhotoSection />
      </Box>
    </Panel>
  )
})

/** What was chosen in another stage may lie in a combination: that is what is chosen here. */
function startOnTheWork() {
  const { recipe } = useDesign.getState()
  const chosen = selectionNow().part
  useBuild.getState().open(null)
  const top = topOf(recipe, chosen)
  if (top !== chosen) useSelection.getState().chooseParts([top])
}

/** Which combination is worked in. */
function Level() {
  const level = useBuild((s) => s.level)
  const name = useDesign((s) => (level === null ? '' : partName(findPart(s.recipe, level))))
  if (level === null) return null
  return (
    <Box bg="paper" borderRadius="sm" px="2.5" py="2" fontSize="sm">
      <Text>{`You change the parts of “${name}”.`}</Text>
      <Button size="xs" variant="outline" bg="card" mt="1.5" onClick={() => useBuild.getState().open(null)}>
        Back to the whole work
      </Button>
    </Box>
  )
}

function Chosen() {
  const recipe = useDesign((s) => s.recipe)
  const level = useBuild((s) => s.level)
  const wanted = useBuild((s) => s.ground)
  const evaluation = useLaterEvaluation()
  const there = new Set(onLevel(recipe, level).map((p) => p.id))
  const ids = useChosenParts().filter((id) => there.has(id))
  const part = findPart(recipe, ids[0] ?? '')
  const shown = useIsShown(part?.id ?? '')
  if (!part) return null
  if (ids.length > 1) {
    const ground = groundOf(evaluation, ids, wanted)
    const ordered = [ground, ...ids.filter((id) => id !== ground)]
    return (
      <>
        <Operations ids={ordered} />
        <Arrange ids={ordered} ground={ground} />
        <SeveralActions ids={ids} />
      </>
    )
  }
  return (
    <>
      {!isFramed(recipe, part.id) && <PartActions part={part} />}
      <KindFields key={part.id} part={part} />
      {level === null && part.kind !== 'lettering' && part.kind !== 'frame' && part.kind !== 'backing' && (
        <Section title="A name in it">
          <Button size="sm" variant="outline" disabled={!shown} onClick={() => makeFrame(part.id)}>
            Make it a frame for a name
          </Button>
        </Section>
      )}
      <FilmAndName part={part} />
      {isFramed(recipe, part.id) ? (
        <Section title="Place and size">
          <Text fontSize="sm" color="softInk">
            The frame it is fitted into says where it lies and how large it is.
          </Text>
        </Section>
      ) : (
        <PlaceFields part={part} />
      )}
    </>
  )
}

const FilmAndName = memo(function FilmAndName({ part }: { part: Part }) {
  const edit = useDesign((s) => s.edit)
  // A name in a frame is for what its frame is for.
  const framed = useDesign((s) => isFramed(s.recipe, part.id))
  return (
    <Section title="Film, use and name">
      <FilmColour label="Colour of the film" film={part.film} onChange={(film) => edit({ film }, part.id)} />
      {!framed && <UseField part={part} />}
      <Field.Root>
        <Field.Label srOnly>Name of the part</Field.Label>
        <Input
          size="sm"
          bg="card"
          borderColor="edge"
          placeholder={partName({ ...part, name: '' })}
          maxLength={60}
          value={part.name}
          onChange={(e) => edit({ name: e.target.value }, part.id)}
          onBlur={endStep}
        />
      </Field.Root>
    </Section>
  )
}, showsTheSame)
