import { Button, Flex, Text } from '@chakra-ui/react'
import { useMutation } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { asProblem } from '../../shared/api/client'
import { limitsOf } from '../../shared/api/model'
import { asOneStep, editRecipeOnce, useDesign } from '../../shared/design/store'
import { useUnit } from '../../shared/evaluation/store'
import { LengthRow } from '../../shared/fields/LengthRow'
import { NumberRow } from '../../shared/fields/NumberRow'
import { Section } from '../../shared/fields/Panel'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { Slide } from '../../shared/fields/Slide'
import { Toggle } from '../../shared/fields/Toggle'
import { editPhoto, layPhoto, type Photo, saveProof, scaledBy, takePhotoAway } from './photo'
import { useBuild } from './store'

/** The photograph of what the lettering is for: never cut, only seen, and saved in the proof. */
export function PhotoSection() {
  const photo = useDesign((s) => s.recipe.photo)
  const input = useRef<HTMLInputElement>(null)
  const laying = useMutation({ mutationFn: layPhoto })
  const problem = laying.error ? asProblem(laying.error) : null
  return (
    <Section title="Photograph under it">
      <input
        ref={input}
        type="file"
        aria-label="Photograph"
        accept="image/jpeg,image/png,image/webp"
        hidden
        onChange={(e) => {
          const file = e.target.files?.[0]
          if (file) laying.mutate(file)
          e.target.value = ''
        }}
      />
      {photo ? (
        <PhotoFields photo={photo} />
      ) : (
        <Text fontSize="sm" color="softInk">
          See the lettering on a picture of the boat, the door, the box. It is never cut.
        </Text>
      )}
      <Button size="sm" variant="outline" loading={laying.isPending} onClick={() => input.current?.click()}>
        {photo ? 'Choose another photograph' : 'Choose a photograph'}
      </Button>
      {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
    </Section>
  )
}

function PhotoFields({ photo }: { photo: Photo }) {
  const unit = useUnit()
  const { handlePhoto } = useBuild.getState()
  const tool = useBuild((s) => s.photoTool)
  const saving = useMutation({ mutationFn: saveProof })
  const problem = saving.error ? asProblem(saving.error) : null
  return (
    <>
      <Flex gap="2" wrap="wrap">
        <Button
          size="sm"
          variant={tool === 'scale' ? 'solid' : 'outline'}
          onClick={() => handlePhoto(tool === 'scale' ? null : 'scale')}
        >
          Set its scale
        </Button>
        <Button
          size="sm"
          variant={tool === 'move' ? 'solid' : 'outline'}
          onClick={() => handlePhoto(tool === 'move' ? null : 'move')}
        >
          {tool === 'move' ? 'Done' : 'Move it'}
        </Button>
      </Flex>
      {tool === 'scale' && <Scale photo={photo} />}
      <NumberRow
        label="Turned"
        sign="°"
        value={photo.turn ?? 0}
        {...limitsOf('Photo', 'turn')}
        onChange={(turn) => editPhoto({ turn })}
      />
      <LengthRow
        label="Its width"
        mm={photo.width_mm ?? 300}
        unit={unit}
        min={1}
        max={20_000}
        stepMm={10}
        onChange={(mm) => {
          const by = mm / (photo.width_mm ?? 300)
          editPhoto({ width_mm: mm, height_mm: (photo.height_mm ?? 200) * by })
        }}
      />
      <Slide
        name="How strongly it shows"
        {...limitsOf('Photo', 'shows')}
        step={0.05}
        value={photo.shows ?? 1}
        onChange={(shows) => editPhoto({ shows })}
      />
      <Toggle
        checked={!photo.hidden}
        onChange={(shown) => {
          asOneStep(() => editPhoto({ hidden: !shown }))
        }}
      >
        Show it
      </Toggle>
      <Flex gap="2" wrap="wrap">
        <Button size="sm" variant="outline" loading={saving.isPending} onClick={() => saving.mutate()}>
          Save a proof
        </Button>
        <Button size="sm" variant="outline" onClick={takePhotoAway}>
          Take it away
        </Button>
      </Flex>
      {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
    </>
  )
}

/** Two places on the photograph, and how far apart they are in truth. */
function Scale({ photo }: { photo: Photo }) {
  const unit = useUnit()
  const spots = useBuild((s) => s.photoSpots)
  const [one, other] = spots
  const [mm, setMm] = useState(100)
  if (!one || !other)
    return (
      <Text fontSize="sm" color="softInk" role="status">
        {one ? 'Click the second place.' : 'Click two places on the photograph whose distance you know.'}
      </Text>
    )
  return (
    <>
      <LengthRow
        label="Distance between them"
        mm={mm}
        unit={unit}
        min={0.1}
        max={20_000}
        stepMm={10}
        onChange={setMm}
      />
      <Button
        size="sm"
        bg="ink"
        color="card"
        onClick={() => {
          editRecipeOnce({ photo: scaledBy(photo, [one, other], mm) })
          useBuild.getState().handlePhoto(null)
        }}
      >
        Scale it so
      </Button>
    </>
  )
}
