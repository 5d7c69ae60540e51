import { Button, chakra, Flex, NativeSelect, SimpleGrid, Text } from '@chakra-ui/react'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { memo } from 'react'
import { answer, api } from '../../shared/api/client'
import { changeOf, isChanged, type LetterChange, UNTOUCHED, withLetters } from '../../shared/design/letters'
import type { Lettering, Unit } from '../../shared/design/recipe'
import { lettersOf, openShape, selectionNow, useChosenLetters } from '../../shared/design/selection'
import { asOneStep, editOnce, partNow, useDesign, usePart } from '../../shared/design/store'
import { useDebounced } from '../../shared/design/useDebounced'
import type { Part } from '../../shared/evaluation/evaluation'
import { usePartView, useUnit } from '../../shared/evaluation/store'
import { useFaces } from '../../shared/faces/useFaces'
import { Expander } from '../../shared/fields/Expander'
import { FilmColour } from '../../shared/fields/FilmField'
import { LengthRow } from '../../shared/fields/LengthRow'
import { Row, Section } from '../../shared/fields/Panel'
import { Segments } from '../../shared/fields/Segments'
import { OutlinePicture, Tile } from '../../shared/fields/Tile'
import { Toggle } from '../../shared/fields/Toggle'
import { TypedField, within } from '../../shared/fields/TypedField'
import { useView } from '../../shared/view/view'
import { MARK_WAYS } from './markWays'
import { alignFeet, exact } from './moves'
import { ShapePicker } from './ShapePicker'
import { useNodes } from './shapes'
import { matchEnd, useMatching } from './strokeEnds'

/** The chosen letters: where they are, how they stand, and what shape they have. */
export function LetterSection() {
  const part = usePart((current) => current)
  const chosen = useDebounced(useChosenLetters(), RESTS_MS)
  const unit = useUnit()
  // While a letter is on its way the work comes first; the figures follow when it rests.
  const view = useDebounced(usePartView(), RESTS_MS)
  const later = useDebounced(part, RESTS_MS)
  return view ? <Fields view={view} unit={unit} part={later} chosen={chosen} /> : null
}

const RESTS_MS = 80

interface FieldsProps {
  view: Part
  unit: Unit
  part: Lettering
  chosen: readonly number[]
}

const Fields = memo(function Fields({ view, unit, part, chosen }: FieldsProps) {
  const edit = useDesign((s) => s.edit)
  const letters = view.letters.filter((l) => chosen.includes(l.id))
  const size = view.size_mm
  const first = letters[0]
  if (!first || !size) return null
  const change = changeOf(part, first.id)
  const only = letters.length === 1

  function set(next: Partial<LetterChange>) {
    edit(withLetters(partNow(), chosen, () => next))
  }

  const length = (name: string, share: number, apply: (share: number) => Partial<LetterChange>) => (
    <LengthRow
      label={name}
      mm={share * size}
      unit={unit}
      min={-20 * size}
      max={20 * size}
      stepMm={unit === 'in' ? 0.254 : 0.1}
      onChange={(mm) => set(apply(exact(mm / size)))}
    />
  )

  return (
    <Section
      title={
        only ? `Letter ${first.text}` : `${letters.length} letters: ${letters.map((l) => l.text).join(' ')}`
      }
    >
      {length('Sideways', change.dx + change.carry, (share) => ({ dx: exact(share - change.carry) }))}
      {length('Down', change.dy, (dy) => ({ dy }))}
      {only && length('Space after it', change.after, (after) => ({ after }))}
      <Row label="Turn">
        <TypedField
          label="Turn"
          value={change.turn}
          show={(value) => `${Number(value.toFixed(2))}°`}
          read={(text) => readNumber(text, '°', -180, 180)}
          step={(value, steps) => within(value + steps, -180, 180)}
          onChange={(turn) => set({ turn })}
        />
      </Row>
      <Row label="Size">
        <TypedField
          label="Size of the letter"
          value={change.scale}
          show={(value) => `${Number((value * 100).toFixed(2))} %`}
          read={(text) => {
            const result = readNumber(text, '%', 10, 1000)
            return 'wrong' in result ? result : { value: result.value / 100 }
          }}
          step={(value, steps) => within(value + steps * 0.01, 0.1, 10)}
          onChange={(scale) => set({ scale })}
        />
      </Row>
      {only && <StrokeEnds part={part.id} letter={first.id} />}
      <Toggle
        checked={change.apart ?? false}
        onChange={(apart) => {
          asOneStep(() => set({ apart: apart || null }))
        }}
      >
        Stands apart, joined to nothing
      </Toggle>
      <Flex direction="column" gap="1.5">
        <Text>Its film</Text>
        <FilmColour
          label="Film of the letter"
          film={change.film ?? part.film}
          onChange={(film) => set({ film: film === part.film.toUpperCase() ? null : film })}
        />
        {change.film && (
          <Text fontSize="sm" color="softInk">
            Cut from another film than the word, so it is joined to nothing.
          </Text>
        )}
      </Flex>
      {letters.some((letter) => letter.marks > 0) && (
        <Flex direction="column" gap="1.5">
          <Text>{first.marks > 1 ? 'Its dots or accents' : 'Its dot or accent'}</Text>
          <Segments
            label="Dot or accent of the letter"
            value={change.marks ?? AS_WORD}
            options={[{ value: AS_WORD, label: 'As word' }, ...MARK_WAYS]}
            onChange={(way) => {
              asOneStep(() => set({ marks: way === AS_WORD ? null : way }))
            }}
            size="xs"
            fill
          />
        </Flex>
      )}
      {only && !change.stand_in && (
        <Button
          size="sm"
          variant="outline"
          alignSelf="start"
          onClick={() => {
            useView.getState().show(first.box)
            openShape(part.id, first.id)
          }}
        >
          Change its shape
        </Button>
      )}
      {only && <Shapes at={first.at} id={first.id} />}
      <Expander
        key={first.id}
        label={change.stand_in ? `A ${change.stand_in.shape} in its place` : 'A shape in its place'}
        open={false}
      >
        <ShapePicker
          label="Stand-in"
          fits
          value={change.stand_in ?? null}
          onChange={(stand_in) => {
            asOneStep(() => set({ stand_in }))
          }}
        />
      </Expander>
      <OwnFace family={change.face?.family ?? SAME} />
      <Flex gap="2" wrap="wrap">
        {change.dy !== 0 && (
          <Button size="sm" variant="outline" onClick={() => set({ dy: 0 })}>
            Back to the baseline
          </Button>
        )}
        {!only && (
          <Button
            size="sm"
            variant="outline"
            onClick={() => {
              void alignFeet()
            }}
          >
            Align their feet
          </Button>
        )}
        {chosen.some((id) => isChanged(part, id)) && (
          <Button
            size="sm"
            variant="outline"
            onClick={() => {
              asOneStep(() => set(UNTOUCHED))
            }}
          >
            {only ? 'Reset this letter' : 'Reset these letters'}
          </Button>
        )}
      </Flex>
    </Section>
  )
})

function readNumber(
  text: string,
  unit: string,
  min: number,
  max: number,
): { value: number } | { wrong: string } {
  const value = Number(text.replace(unit, '').replace(',', '.').replace('−', '-').trim() || Number.NaN)
  return value >= min && value <= max ? { value } : { wrong: `Type ${min} to ${max} ${unit}.` }
}

const Shape = chakra(Tile, {
  base: {
    p: '1.5',
    height: '58px',
  },
})

/** The shapes the face offers for a letter, as pictures. */
function Shapes({ at, id }: { at: number; id: number }) {
  const recipe = useDesign((s) => s.recipe)
  const part = usePart((current) => current)
  const query = useQuery({
    queryKey: ['alternates', part.face, part.text, part.features, changeOf(part, id).face, at],
    queryFn: ({ signal }) =>
      answer(api.POST('/api/faces/alternates', { body: { recipe, part: part.id, at }, signal })),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
  })
  const shapes = query.data ?? []
  const chosen = JSON.stringify(changeOf(part, id).alternates ?? {})
  if (shapes.length < 2) return null
  return (
    <>
      <Text>Other shapes of this letter</Text>
      <SimpleGrid columns={4} gap="1.5" role="group" aria-label="Shapes">
        {shapes.map((shape) => (
          <Shape
            key={shape.name}
            type="button"
            aria-label={shape.name}
            title={shape.name}
            aria-pressed={JSON.stringify(shape.features) === chosen}
            onClick={() => {
              editOnce(withLetters(partNow(), [id], () => ({ alternates: shape.features })))
            }}
          >
            <OutlinePicture box={shape.box} d={shape.d} />
          </Shape>
        ))}
      </SimpleGrid>
    </>
  )
}

const AS_WORD = 'word'
const SAME = ''
/** Another face for the chosen letters. */
const OwnFace = memo(function OwnFace({ family }: { family: string }) {
  const faces = useFaces()
  return (
    <Row label="Face">
      <NativeSelect.Root size="sm">
        <NativeSelect.Field
          aria-label="Face of the letter"
          value={family}
          borderColor="edge"
          bg="card"
          onChange={(e) => {
            const face = e.target.value === SAME ? null : { family: e.target.value, weight: null, axes: {} }
            editOnce(withLetters(partNow(), lettersOf(selectionNow()), () => ({ face })))
          }}
        >
          <option value={SAME}>As the word</option>
          {faces.map((f) => (
            <option key={f.slug} value={f.slug}>
              {f.name}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Row>
  )
})

/** The ends of a letter's strokes: dragged on the work, or as far out as another one that is pointed at. */
function StrokeEnds({ part, letter }: { part: string; letter: number }) {
  const ends = useNodes(part, letter).nodes?.ends ?? []
  const matching = useMatching((s) => s.matching)
  if (ends.length === 0) return null
  return (
    <Flex direction="column" gap="1.5">
      <Text>Ends of its strokes</Text>
      <Text fontSize="sm" color="softInk">
        {matching
          ? 'Point at the end, of this or another letter, that it is to come as far out as. Esc lets go.'
          : 'Drag a green grip on the letter; or make one as long as another:'}
      </Text>
      <Flex gap="1.5" wrap="wrap" role="group" aria-label="As far out as another end">
        {ends.map((_, end) => (
          <Button
            // biome-ignore lint/suspicious/noArrayIndexKey: ends are told by their numbers
            key={end}
            size="xs"
            variant={matching?.end === end ? 'solid' : 'outline'}
            onClick={() => matchEnd(matching?.end === end ? null : { part, letter, end })}
          >
            {ends.length === 1 ? 'Its end' : `End ${end + 1}`}
          </Button>
        ))}
      </Flex>
    </Flex>
  )
}
