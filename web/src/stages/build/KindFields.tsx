import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { memo } from 'react'
import { OPERATION_WORDS, OPERATIONS, type Operation, sayPart } from '../../shared/design/partNames'
import type {
  Artwork,
  Backing,
  Combination,
  Lettering,
  LinePart,
  Ornament,
  Part,
  PartChange,
  ShapePart,
} from '../../shared/design/recipe'
import { findPart } from '../../shared/design/recipe'
import { endStep, useDesign } from '../../shared/design/store'
import { useEvaluation, useUnit } from '../../shared/evaluation/store'
import { Choice } from '../../shared/fields/Choice'
import { FilmColour } from '../../shared/fields/FilmField'
import { LengthRow } from '../../shared/fields/LengthRow'
import { LibraryShapePicture, useLibraryShapes } from '../../shared/fields/LibraryShapePicture'
import { Row, Section } from '../../shared/fields/Panel'
import { Segments } from '../../shared/fields/Segments'
import { Slide } from '../../shared/fields/Slide'
import { Toggle } from '../../shared/fields/Toggle'
import { useView } from '../../shared/view/view'
import { changeGround, release, splitLines, typeWordsOf } from './actions'
import { ColourUses } from './ColourUses'
import { ContourNotes } from './ContourNotes'
import { FrameFields } from './FrameFields'
import { viewOf } from './levels'
import { showsTheSame } from './parts'
import { useBuild } from './store'

/** What can be changed of a part, by its kind. */
export const KindFields = memo(function KindFields({ part }: { part: Part }) {
  switch (part.kind) {
    case 'lettering':
      return <ToLetter part={part} />
    case 'shape':
      return <ShapeFields part={part} />
    case 'line':
      return <LineFields part={part} />
    case 'artwork':
      return <ArtworkFields part={part} />
    case 'ornament':
      return <OrnamentFields part={part} />
    case 'backing':
      return <BackingFields part={part} />
    case 'combination':
      return <CombinationFields part={part} />
    case 'frame':
      return <FrameFields part={part} />
  }
}, showsTheSame)

/** Changes the part that is chosen, as one step or as part of a drag. */
const editNow = (change: PartChange) => useDesign.getState().edit(change)

const once = (change: PartChange) => {
  endStep()
  editNow(change)
}

function ToLetter({ part }: { part: Lettering }) {
  const { setStage } = useView.getState()
  const { pick } = useBuild.getState()
  return (
    <Section title="Words">
      <Button size="sm" variant="outline" onClick={() => pick('frames')}>
        Put it in a frame…
      </Button>
      <Flex gap="2">
        <Button size="sm" variant="outline" onClick={() => typeWordsOf(part.id)}>
          Words and face…
        </Button>
        <Button size="sm" variant="outline" onClick={() => setStage('join')}>
          Join its letters…
        </Button>
      </Flex>
      {part.text.trim().includes('\n') && !part.course && (
        <Button size="sm" variant="outline" onClick={() => splitLines(part.id)}>
          Make each line a part of its own
        </Button>
      )}
    </Section>
  )
}

function ShapeFields({ part }: { part: ShapePart }) {
  const form = useLibraryShapes()?.find((f) => f.name === part.form)
  if (!form || form.parameters.length === 0) return null
  return (
    <Section title="Shape">
      <Flex gap="3" align="flex-start">
        <Box width="56px" height="56px" flexShrink="0">
          <LibraryShapePicture shape={form} />
        </Box>
        <Flex direction="column" gap="3" flex="1">
          {form.parameters.map(({ key, label, kind, low, high, default: usual }) => (
            <Slide
              key={key}
              name={label}
              low={low}
              high={high}
              step={kind === 'share' ? 0.01 : 1}
              value={part.values?.[key] ?? usual}
              onChange={(value) => editNow({ values: { ...part.values, [key]: value } })}
            />
          ))}
        </Flex>
      </Flex>
    </Section>
  )
}

function LineFields({ part }: { part: LinePart }) {
  const unit = useUnit()
  const course = part.course ?? 'straight'
  return (
    <Section title="Line">
      <Segments
        label="Course"
        size="xs"
        value={course}
        options={[
          { value: 'straight', label: 'Straight' },
          { value: 'arc', label: 'Arc' },
          { value: 'wave', label: 'Wave' },
          { value: 'free', label: 'Free' },
        ]}
        onChange={(next) =>
          once({
            course: next,
            ...(next === 'free' && (part.points?.length ?? 0) < 3 ? withMiddle(part) : {}),
          })
        }
        fill
      />
      {course === 'arc' && (
        <Slide
          name="Bend"
          low={-1}
          high={1}
          step={0.01}
          value={part.bulge ?? 0.25}
          onChange={(bulge) => editNow({ bulge })}
        />
      )}
      {course === 'wave' && (
        <>
          <Slide
            name="Waves"
            low={1}
            high={20}
            step={1}
            value={part.waves ?? 3}
            onChange={(waves) => editNow({ waves })}
          />
          <LengthRow
            label="Swing"
            mm={part.swing_mm ?? 5}
            unit={unit}
            min={0}
            max={500}
            stepMm={0.5}
            onChange={(mm) => editNow({ swing_mm: mm })}
          />
        </>
      )}
      {course === 'free' && (
        <Text fontSize="sm" color="softInk">
          Drag its points on the work. Double-click the line for one more, a point for a corner; Delete takes
          out the point that was dragged last.
        </Text>
      )}
      {part.use === 'cut' || part.use === 'engrave' ? (
        <>
          <LengthRow
            label="Width of the band"
            mm={part.width_mm ?? 4}
            unit={unit}
            min={0.1}
            max={300}
            stepMm={0.5}
            onChange={(mm) => editNow({ width_mm: mm })}
          />
          <Segments
            label="Ends"
            size="xs"
            value={part.ends ?? 'round'}
            options={[
              { value: 'round', label: 'Round ends' },
              { value: 'square', label: 'Square' },
              { value: 'pointed', label: 'Pointed' },
            ]}
            onChange={(ends) => once({ ends })}
            fill
          />
        </>
      ) : (
        <Text fontSize="sm" color="softInk">
          It stays a line without a width.
        </Text>
      )}
    </Section>
  )
}

/** A line's ends with a point between them, to be dragged. */
function withMiddle(part: LinePart): PartChange {
  const [start, end] = [part.points?.[0], part.points?.at(-1)]
  if (!start || !end) return {}
  const middle = { x: (start.x + end.x) / 2, y: (start.y + end.y) / 2 - 8, corner: false }
  return { points: [start, middle, end] }
}

function ArtworkFields({ part }: { part: Artwork }) {
  const unit = useUnit()
  const hasLines = part.items.some((item) => item.line)
  return (
    <Section title="Drawing">
      <Segments
        label="Its colours"
        size="xs"
        value={part.colours ?? 'one'}
        options={[
          { value: 'one', label: 'All one film' },
          { value: 'own', label: 'Its own colours' },
        ]}
        onChange={(colours) => once({ colours })}
        fill
      />
      {hasLines && (
        <>
          <LengthRow
            label="Close gaps up to"
            mm={part.close_mm ?? 0.1}
            unit={unit}
            min={0}
            max={20}
            stepMm={0.1}
            onChange={(mm) => editNow({ close_mm: mm })}
          />
          <Segments
            label="Open lines"
            size="xs"
            value={part.lines ?? 'draw'}
            options={[
              { value: 'draw', label: 'Draw' },
              { value: 'score', label: 'Score' },
              { value: 'band', label: 'Cut as bands' },
            ]}
            onChange={(lines) => once({ lines })}
            fill
          />
          {part.lines === 'band' && (
            <LengthRow
              label="Width of the bands"
              mm={part.band_mm || 1}
              unit={unit}
              min={0.1}
              max={100}
              stepMm={0.5}
              onChange={(mm) => editNow({ band_mm: mm })}
            />
          )}
        </>
      )}
      <ColourUses part={part} />
      <ContourNotes part={part} />
    </Section>
  )
}

function OrnamentFields({ part }: { part: Ornament }) {
  const { pick } = useBuild.getState()
  return (
    <Section title="Ornament">
      <Text fontSize="sm" color="softInk">{`One glyph of ${part.face?.family ?? 'a face'}.`}</Text>
      <Button size="sm" variant="outline" onClick={() => pick('ornaments')}>
        Another ornament…
      </Button>
    </Section>
  )
}

function BackingFields({ part }: { part: Backing }) {
  const unit = useUnit()
  const of = useDesign((s) => sayPart(findPart(s.recipe, part.of)))
  return (
    <Section title="Backing">
      <Text fontSize="sm" color="softInk">{`Follows “${of}” when that changes.`}</Text>
      <LengthRow
        label="Goes beyond it by"
        mm={part.by_mm ?? 3}
        unit={unit}
        min={-100}
        max={200}
        stepMm={0.5}
        onChange={(mm) => editNow({ by_mm: mm })}
      />
      <Segments
        label="Holes"
        size="xs"
        value={part.holes ?? 'fill small'}
        options={[
          { value: 'keep', label: 'Keep holes' },
          { value: 'fill small', label: 'Fill small' },
          { value: 'fill all', label: 'Fill all' },
        ]}
        onChange={(holes) => once({ holes })}
        fill
      />
      {part.holes === 'fill small' && (
        <LengthRow
          label="Small is up to"
          mm={part.fill_mm ?? 4}
          unit={unit}
          min={0}
          max={500}
          stepMm={0.5}
          onChange={(mm) => editNow({ fill_mm: mm })}
        />
      )}
      <Segments
        label="Corners"
        size="xs"
        value={part.corners ?? 'round'}
        options={[
          { value: 'round', label: 'Round corners' },
          { value: 'mitred', label: 'Sharp' },
        ]}
        onChange={(corners) => once({ corners })}
        fill
      />
    </Section>
  )
}

function CombinationFields({ part }: { part: Combination }) {
  const unit = useUnit()
  const { open, point } = useBuild.getState()
  const pointing = useBuild((s) => s.pointing)
  const level = useBuild((s) => s.level)
  const recipe = useDesign((s) => s.recipe)
  const halo = part.halo
  const ground = part.members[0] ?? ''
  return (
    <Section title="How it is put together">
      <Segments
        label="How it is put together"
        size="xs"
        value={part.how ?? 'weld'}
        options={([...OPERATIONS.slice(0, 3)] as Operation[]).map((how) => ({
          value: how,
          label: OPERATION_WORDS[how],
        }))}
        onChange={(how) => once({ how })}
        fill
      />
      <Segments
        label="How it is put together, otherwise"
        size="xs"
        value={part.how ?? 'weld'}
        options={(['divide', 'halo', 'edges'] as Operation[]).map((how) => ({
          value: how,
          label: OPERATION_WORDS[how],
        }))}
        onChange={(how) => once({ how })}
        fill
      />
      {part.members.length > 1 && (
        <Row label="Laid on">
          <Choice
            label="Laid on"
            value={ground}
            options={part.members.map((id) => ({ value: id, label: sayPart(findPart(recipe, id)) }))}
            onChange={(id) => changeGround(part.id, id)}
          />
        </Row>
      )}
      {part.how === 'halo' && halo && (
        <>
          <LengthRow
            label="Halo"
            mm={halo.mm}
            unit={unit}
            min={0.1}
            max={100}
            stepMm={0.5}
            onChange={(mm) => editNow({ halo: { ...halo, mm } })}
          />
          <Segments
            label="Manner of the halo"
            size="xs"
            value={halo.manner}
            options={[
              { value: 'stand', label: 'Names stand in it' },
              { value: 'through', label: 'Names cut through' },
            ]}
            onChange={(manner) => once({ halo: { ...halo, manner } })}
            fill
          />
          <Toggle checked={halo.islands} onChange={(islands) => once({ halo: { ...halo, islands } })}>
            Keep islands inside letters
          </Toggle>
        </>
      )}
      {part.how === 'edges' && (
        <>
          <Text fontSize="sm" color="softInk">
            {part.edges.length === 0
              ? 'Point at the edges to weld to; all others stay as they are.'
              : `Welded to ${part.edges.length} ${part.edges.length === 1 ? 'edge' : 'edges'}; all others stay as they are.`}
          </Text>
          <Button
            size="sm"
            variant={pointing ? 'solid' : 'outline'}
            onClick={() => point(pointing ? null : { part: ground, for: 'edges' })}
          >
            {pointing ? 'Done' : 'Point at edges'}
          </Button>
        </>
      )}
      {part.how === 'divide' && <Regions part={part} />}
      {part.how !== 'edges' && (
        <LengthRow
          label="Leave out bits under"
          mm={part.least_mm}
          unit={unit}
          min={0}
          max={50}
          stepMm={0.1}
          onChange={(mm) => editNow({ least_mm: mm })}
        />
      )}
      <Row label="Its parts">
        <Button size="sm" variant="outline" onClick={() => open(level === part.id ? null : part.id)}>
          {level === part.id ? 'Done' : 'Change them'}
        </Button>
      </Row>
      <Button size="sm" variant="outline" onClick={() => release(part.id)}>
        Take it apart
      </Button>
    </Section>
  )
}

const Region = chakra('div', {
  base: { display: 'grid', gap: '1.5', borderWidth: '1px', borderColor: 'rule', borderRadius: 'md', p: '2' },
})

/** The regions of a division, by what covers them: each in a film, or left out. */
function Regions({ part }: { part: Combination }) {
  const view = viewOf(useEvaluation(), part.id)
  const recipe = useDesign((s) => s.recipe)
  const regions = view?.made?.regions ?? []
  const covers = [...new Map(regions.map((r) => [r.covers.join('+'), r])).entries()]
  const films = part.films ?? {}
  const set = (key: string, film: string) => {
    const rest = Object.fromEntries(Object.entries(films).filter(([k]) => !k.startsWith(`${key}/`)))
    editNow({ films: { ...rest, [key]: film } })
  }
  return covers.map(([key, region]) => {
    const names = region.covers.map((id) => sayPart(findPart(recipe, id))).join(' and ')
    const off = films[key] === 'none'
    return (
      <Region key={key}>
        <Text fontSize="sm" fontWeight="600">
          {region.covers.length > 1 ? `Where ${names} overlap` : `${names} alone`}
        </Text>
        {!off && (
          <FilmColour
            label={`Film of ${names}`}
            film={region.film ?? '#23201C'}
            onChange={(f) => set(key, f)}
          />
        )}
        <Toggle
          checked={!off}
          onChange={(on) =>
            set(key, on ? (findPart(recipe, region.covers.at(-1) ?? '')?.film ?? '#23201C') : 'none')
          }
        >
          Cut it
        </Toggle>
      </Region>
    )
  })
}
