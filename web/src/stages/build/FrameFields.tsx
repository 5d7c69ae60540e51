import { Box, Button, Flex, Input, NativeSelect, Text } from '@chakra-ui/react'
import { useQueryClient } from '@tanstack/react-query'
import { Plus, X } from 'lucide-react'
import { memo, useState } from 'react'
import { answer, api, asProblem } from '../../shared/api/client'
import { limitsOf } from '../../shared/api/model'
import { counted } from '../../shared/design/counted'
import { withText } from '../../shared/design/letters'
import { partName } from '../../shared/design/partNames'
import { type Frame, findPart, type Lettering, withPart } from '../../shared/design/recipe'
import { useSelection } from '../../shared/design/selection'
import { asOneStep, editOnce, endStep, useDesign } from '../../shared/design/store'
import { useEvaluation, useUnit } from '../../shared/evaluation/store'
import { useFaces } from '../../shared/faces/useFaces'
import { Expander } from '../../shared/fields/Expander'
import { IconTool } from '../../shared/fields/IconTool'
import { LengthRow } from '../../shared/fields/LengthRow'
import { Row, Section } from '../../shared/fields/Panel'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { Segments } from '../../shared/fields/Segments'
import { Slide } from '../../shared/fields/Slide'
import { Toggle } from '../../shared/fields/Toggle'
import { useView } from '../../shared/view/view'
import { addName, release, remove } from './actions'
import { useFrameForms } from './FrameLibrary'
import { alone, type Fit, type FrameForm, type Manner, type OwnBand } from './frames'
import { viewOf } from './levels'
import { useBuild } from './store'

const edit = (change: Partial<Omit<Frame, 'kind'>>) => useDesign.getState().edit(change)
const once = (change: Partial<Omit<Frame, 'kind'>>) => {
  editOnce(change)
}

/** What can be changed of a frame: the names in it, its measures, and how they are fitted. */
export const FrameFields = memo(function FrameFields({ part }: { part: Frame }) {
  const form = useFrameForms()?.find((f) => f.name === part.form)
  return (
    <>
      <Section title={part.members.length > 1 ? 'Names' : 'Name'}>
        <Names part={part} most={form?.most_names ?? Math.max(1, part.bands.length)} />
        {form?.has_initial && <Initial part={part} />}
      </Section>
      {form && form.measures.length > 0 && (
        <Section title="Frame">
          {form.uses.length > 1 && (
            <Segments
              label="What becomes of the name"
              size="xs"
              value={part.holes ? 'holes' : 'edges'}
              options={[
                { value: 'edges', label: 'Runs into the rim' },
                { value: 'holes', label: 'Cut out' },
              ]}
              onChange={(use) => once({ holes: use === 'holes' })}
              fill
            />
          )}
          <Measures part={part} form={form} />
        </Section>
      )}
      {part.form === 'own' && <OwnBands part={part} />}
      <FitFields part={part} />
    </>
  )
})

/** The words in the bands, to be typed right here. */
function Names({ part, most }: { part: Frame; most: number }) {
  const recipe = useDesign((s) => s.recipe)
  const names = part.members.map((id) => findPart(recipe, id)).filter((p) => p?.kind === 'lettering')
  const { choosePart } = useSelection.getState()
  const { setStage } = useView.getState()
  const first = names[0]
  return (
    <>
      {names.map((name, n) => (
        <Flex key={name.id} gap="1">
          <Input
            aria-label={names.length > 1 ? `Name ${n + 1}` : 'Name'}
            size="md"
            fontSize="lg"
            bg="card"
            borderColor="edge"
            autoFocus={n === 0 && name.text === ''}
            placeholder="Type a name"
            value={name.text.replaceAll('\n', ' ')}
            onChange={(e) => type(name, e.target.value)}
            onBlur={endStep}
            spellCheck={false}
            autoComplete="off"
          />
          {names.length > 1 && (
            <IconTool
              name={`Take out ${partName(name)}`}
              size="sm"
              variant="plain"
              onClick={() => takeOut(part, name.id)}
            >
              <X size={15} />
            </IconTool>
          )}
        </Flex>
      ))}
      <Flex gap="2" wrap="wrap">
        {names.length < most && (
          <Button size="xs" variant="outline" onClick={() => addName(part.id)}>
            <Plus size={14} /> {names.length === 0 ? 'A name' : 'One more name'}
          </Button>
        )}
        {first && (
          <Button
            size="xs"
            variant="outline"
            onClick={() => {
              choosePart(first.id)
              setStage('letter')
            }}
          >
            Face and letters…
          </Button>
        )}
      </Flex>
    </>
  )
}

function type(name: Lettering, text: string) {
  const { recipe, editRecipe } = useDesign.getState()
  editRecipe(withPart(recipe, name.id, withText(name, text)))
}

function takeOut(frame: Frame, id: string) {
  remove([id])
  useSelection.getState().chooseParts([frame.id])
}

/** The letters of its own that a frame is made of, and their face. */
function Initial({ part }: { part: Frame }) {
  const faces = useFaces()
  return (
    <>
      <Row label="Initial">
        <Input
          aria-label="Initial"
          size="sm"
          bg="card"
          borderColor="edge"
          maxLength={6}
          placeholder="as the name’s"
          value={part.text}
          onChange={(e) => edit({ text: e.target.value })}
          onBlur={endStep}
          autoComplete="off"
        />
      </Row>
      <Row label="Its face">
        <NativeSelect.Root size="sm">
          <NativeSelect.Field
            aria-label="Face of the initial"
            value={part.face.family}
            bg="card"
            borderColor="edge"
            onChange={(e) => once({ face: { family: e.target.value, weight: null, axes: {} } })}
          >
            {faces.map((face) => (
              <option key={face.slug} value={face.slug}>
                {face.name}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      </Row>
    </>
  )
}

/** The measures of a frame: lengths in the maker's unit. */
function Measures({ part, form }: { part: Frame; form: FrameForm }) {
  const unit = useUnit()
  const larger = Math.max(part.width_mm, part.height_mm)
  const values = part.values ?? {}
  const set = (key: string, value: number) => edit({ values: { ...values, [key]: value } })
  return form.measures.map(({ key, label, kind, low, high, default: usual }) => {
    if (kind === 'length' && usual === null)
      return (
        <Box key={key}>
          <Toggle
            checked={values[key] === undefined}
            onChange={(follows) => {
              const { [key]: _, ...rest } = values
              once({ values: follows ? rest : { ...values, [key]: Math.round(larger * low * 20) / 10 } })
            }}
          >
            {`${label} follows from the name`}
          </Toggle>
          {values[key] !== undefined && (
            <LengthRow
              label={label}
              mm={values[key]}
              unit={unit}
              min={low * larger}
              max={high * larger}
              stepMm={0.5}
              onChange={(mm) => set(key, mm)}
            />
          )}
        </Box>
      )
    if (kind === 'length')
      return (
        <LengthRow
          key={key}
          label={label}
          mm={values[key] ?? (usual ?? 0) * larger}
          unit={unit}
          min={low * larger}
          max={high * larger}
          stepMm={0.5}
          onChange={(mm) => set(key, mm)}
        />
      )
    if (kind === 'count' && high === 1)
      return (
        <Toggle
          key={key}
          checked={(values[key] ?? usual ?? 0) >= 0.5}
          onChange={(on) => once({ values: { ...values, [key]: on ? 1 : 0 } })}
        >
          {label}
        </Toggle>
      )
    return (
      <Slide
        key={key}
        name={label}
        min={low}
        max={high}
        step={kind === 'count' ? 1 : 0.01}
        value={values[key] ?? usual ?? low}
        onChange={(value) => set(key, value)}
      />
    )
  })
}

/** How names are fitted. */
function FitFields({ part }: { part: Frame }) {
  const unit = useUnit()
  const { fit } = part
  const bands = viewOf(useEvaluation(), part.id)?.made?.bands ?? []
  const change = (more: Partial<Fit>) => edit({ fit: { ...fit, ...more } })
  const depth = bands.find((band) => band.name)?.depth_mm ?? 0
  return (
    <Section title="Fit">
      <LengthRow
        label="Air beside the name"
        mm={fit.air_mm}
        unit={unit}
        {...limitsOf('Fit', 'air_mm')}
        stepMm={0.5}
        onChange={(air_mm) => change({ air_mm })}
      />
      {!part.holes && (
        <>
          <Toggle
            checked={fit.depth_mm === null}
            onChange={(by) =>
              once({ fit: { ...fit, depth_mm: by ? null : Math.max(0.1, Math.round(depth * 10) / 10) } })
            }
          >
            Depth chosen so that it holds
          </Toggle>
          {fit.depth_mm !== null && (
            <LengthRow
              label="Depth in the edges"
              mm={fit.depth_mm ?? 1}
              unit={unit}
              {...limitsOf('Fit', 'depth_mm')}
              stepMm={0.1}
              onChange={(depth_mm) => change({ depth_mm })}
            />
          )}
        </>
      )}
      <Expander label="How it may bend" open={false}>
        <Slide
          name="Letters wider or narrower, %"
          min={0}
          max={60}
          step={1}
          value={Math.round((fit.stretch - 1) * 100)}
          onChange={(percent) => change({ stretch: 1 + percent / 100 })}
        />
        <Toggle checked={fit.spread} onChange={(spread) => once({ fit: { ...fit, spread } })}>
          Spread letters to fill the room
        </Toggle>
        <Toggle checked={fit.reach} onChange={(reach) => once({ fit: { ...fit, reach } })}>
          Every letter reaches down to its edge
        </Toggle>
        <Segments
          label="What lies in the middle"
          size="xs"
          value={fit.centre}
          options={[
            { value: 'box', label: 'Middle of its box' },
            { value: 'seen', label: 'As it is seen' },
          ]}
          onChange={(centre) => once({ fit: { ...fit, centre } })}
          fill
        />
        <Segments
          label="What stands on a lower edge"
          size="xs"
          value={fit.feet ?? 'usual'}
          options={[
            { value: 'usual', label: 'As usual' },
            { value: 'baseline', label: 'Its feet' },
            { value: 'lowest', label: 'Its lowest' },
          ]}
          onChange={(feet) => once({ fit: { ...fit, feet: feet === 'usual' ? null : feet } })}
          fill
        />
      </Expander>
      <Button size="sm" variant="outline" onClick={() => release(part.id)}>
        {part.ground ? 'Take it apart: drawing and name stay' : 'Take the frame away: the name stays'}
      </Button>
    </Section>
  )
}

const MANNERS: readonly { value: Manner; label: string }[] = [
  { value: 'across', label: 'Left and right' },
  { value: 'upright', label: 'Above and below' },
  { value: 'stand', label: 'Stands on one' },
  { value: 'within', label: 'Lies free' },
]

/** The bands drawn on artwork, with the edges that are pointed at. */
function OwnBands({ part }: { part: Frame }) {
  const pointing = useBuild((s) => s.pointing)
  const at = useBuild((s) => s.band)
  const { point } = useBuild.getState()
  const set = (n: number, more: Partial<OwnBand>) =>
    edit({ bands: part.bands.map((band, k) => (k === n ? { ...band, ...more } : band)) })
  return (
    <Section title={part.bands.length > 1 ? 'Places for names' : 'Place for the name'}>
      {part.bands.map((band, n) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a band is told by its number
        <Flex key={n} direction="column" gap="2">
          <Segments
            label={`What holds name ${n + 1}`}
            size="xs"
            value={band.manner}
            options={MANNERS.slice(0, 2)}
            onChange={(manner) => {
              asOneStep(() => set(n, { manner }))
            }}
            fill
          />
          <Segments
            label={`What holds name ${n + 1}, otherwise`}
            size="xs"
            value={band.manner}
            options={MANNERS.slice(2)}
            onChange={(manner) => {
              asOneStep(() => set(n, { manner }))
            }}
            fill
          />
          <Text fontSize="sm" color="softInk">
            {band.edges.length === 0
              ? 'It runs into whatever edge it meets. Drag the place on the work.'
              : `It runs into ${counted(band.edges.length, 'edge')}; all others stay as they are.`}
          </Text>
          <Button
            size="sm"
            variant={pointing && at === n ? 'solid' : 'outline'}
            onClick={() => point(pointing ? null : { part: part.ground ?? '', for: 'edges' }, n)}
          >
            {pointing && at === n ? 'Done' : 'Point at edges'}
          </Button>
        </Flex>
      ))}
      <Button
        size="xs"
        variant="outline"
        alignSelf="start"
        onClick={() => {
          const last = part.bands.at(-1)
          if (!last) return
          editOnce({ bands: [...part.bands, { ...last, y: last.y + last.height_mm * 1.2 }] })
        }}
      >
        <Plus size={14} /> One more place
      </Button>
      <Keep part={part} />
    </Section>
  )
}

/** Keeps a frame in the shop's own library. */
function Keep({ part }: { part: Frame }) {
  const client = useQueryClient()
  const [name, setName] = useState('')
  const [told, setTold] = useState<{ what: string; todo: string } | string>('')
  async function keep() {
    const { recipe } = useDesign.getState()
    try {
      await answer(api.POST('/api/frames/own', { body: { name: name.trim(), recipe: alone(recipe, part) } }))
      setTold(`“${name.trim()}” is in the library of frames.`)
      setName('')
      await client.invalidateQueries({ queryKey: ['own frames'] })
    } catch (error) {
      const problem = asProblem(error)
      setTold({ what: problem.message, todo: problem.todo })
    }
  }
  return (
    <>
      <Flex gap="2">
        <Input
          aria-label="Name of the kept frame"
          size="sm"
          bg="card"
          borderColor="edge"
          maxLength={60}
          placeholder="Name it to keep it"
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <Button size="sm" variant="outline" disabled={name.trim() === ''} onClick={keep}>
          Keep
        </Button>
      </Flex>
      {typeof told === 'string' ? (
        told && <Text fontSize="sm">{told}</Text>
      ) : (
        <ProblemNote what={told.what} todo={told.todo} />
      )}
    </>
  )
}
