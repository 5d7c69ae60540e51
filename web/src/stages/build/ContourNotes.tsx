import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { answer, api, type Schemas } from '../../shared/api/client'
import { counted } from '../../shared/design/counted'
import type { Artwork } from '../../shared/design/recipe'
import { editOnce, useDesign } from '../../shared/design/store'
import { showLength } from '../../shared/design/units'
import { USE_WORDS } from '../../shared/design/uses'
import { useUnit } from '../../shared/evaluation/store'
import { Choice as UseChoice } from '../../shared/fields/Choice'
import { FilmColour } from '../../shared/fields/FilmField'
import { Toggle } from '../../shared/fields/Toggle'
import { useBuild } from './store'

export type Contour = Schemas['ContourOut']

/** The contours of a part on the work, to point at. */
export function useContours(part: string | null, what: 'edges' | 'contours') {
  const recipe = useDesign((s) => s.recipe)
  return useQuery({
    queryKey: ['contours', what, part, recipe],
    queryFn: ({ signal }) => {
      const body = { recipe, part: part ?? '' }
      return answer(
        what === 'edges'
          ? api.POST('/api/build/edges', { body, signal })
          : api.POST('/api/build/contours', { body, signal }),
      )
    },
    enabled: part !== null,
    placeholderData: (before) => before,
    retry: false,
    gcTime: 30_000,
  }).data
}

type Choice = Schemas['ContourChoice']

/** The choice about some contours changed. */
export function withContours(part: Artwork, numbers: readonly number[], change: Partial<Choice>) {
  const contours = { ...part.contours }
  for (const n of numbers) {
    const next: Choice = { film: null, off: false, use: null, ...contours[n], ...change }
    if (next.film === null && next.use === null && !next.off) delete contours[n]
    else contours[n] = next
  }
  return { contours }
}

/** What is to be said of a drawing's contours, and what is chosen for the one pointed at. */
export function ContourNotes({ part }: { part: Artwork }) {
  const found = useContours(part.id, 'contours')
  const unit = useUnit()
  const pointing = useBuild((s) => s.pointing)
  const { point } = useBuild.getState()
  const contours = found?.contours ?? []
  const on = contours.filter((c) => !c.off)
  const doubles = on.filter((c) => c.double_of !== null)
  const open = on.filter((c) => c.open)
  const widest = Math.max(0, ...open.map((c) => c.gap_mm))
  const chosen = Object.entries(part.contours ?? {})
  return (
    <>
      <Text fontSize="sm" color="softInk">
        {`${counted(contours.length, 'contour')}${contours.length > on.length ? `, ${contours.length - on.length} left out` : ''}.`}
      </Text>
      {doubles.length > 0 && (
        <Note
          said={`${counted(doubles.length, 'contour lies', 'contours lie')} exactly on another: the knife would cut there twice.`}
          action="Leave them out"
          onAction={() => {
            editOnce(
              withContours(
                part,
                doubles.map((c) => c.number),
                { off: true },
              ),
            )
          }}
        />
      )}
      {open.length > 0 && (
        <Note
          said={`${counted(open.length, 'open line')}; the widest gap is ${showLength(widest, unit)}.`}
          action={widest <= 20 && widest > 0 ? 'Close them all' : null}
          onAction={() => {
            editOnce({ close_mm: Math.min(20, Math.ceil(widest * 1000) / 1000 + 0.001) })
          }}
        />
      )}
      {(found?.crossing ?? 0) > 0 && (
        <Note
          said={`${counted(found?.crossing ?? 0, 'pair of contours crosses', 'pairs of contours cross')} each other; they are cut as one area.`}
          action={null}
        />
      )}
      <Groups part={part} contours={contours} />
      <Button
        size="sm"
        variant={pointing?.for === 'contours' ? 'solid' : 'outline'}
        onClick={() => point(pointing ? null : { part: part.id, for: 'contours' })}
      >
        {pointing?.for === 'contours' ? 'Done' : 'Choose contours…'}
      </Button>
      {pointing?.for === 'contours' && <Chosen part={part} contours={contours} />}
      {chosen.length > 0 && (
        <Button
          size="sm"
          variant="outline"
          onClick={() => {
            editOnce({ contours: {} })
          }}
        >
          All contours as they were read
        </Button>
      )}
    </>
  )
}

const MOST_GROUPS = 40

/** The groups and layers of a drawing, each to be left out as one. */
function Groups({ part, contours }: { part: Artwork; contours: readonly Contour[] }) {
  const groups = new Map<string, Contour[]>()
  for (const contour of contours) groups.set(contour.group, [...(groups.get(contour.group) ?? []), contour])
  if (groups.size < 2 || groups.size > MOST_GROUPS) return null
  return [...groups].map(([group, own]) => (
    <Toggle
      key={group}
      checked={own.some((contour) => !contour.off)}
      onChange={(on) => {
        const numbers = own.map((contour) => contour.number)
        editOnce(withContours(part, numbers, { off: !on }))
      }}
    >
      {group || 'What is in no group'}
    </Toggle>
  ))
}

/** What is done with the contours that are pointed at. */
function Chosen({ part, contours }: { part: Artwork; contours: readonly Contour[] }) {
  const numbers = useBuild((s) => s.contours)
  if (numbers.length === 0)
    return (
      <Text fontSize="sm" color="softInk">
        Click a contour on the work; with Shift, several.
      </Text>
    )
  const choices = numbers.map((n) => part.contours?.[n])
  const first = contours.find((contour) => contour.number === numbers[0])
  const off = choices.every((choice) => choice?.off)
  const change = (what: Partial<Choice>) => {
    editOnce(withContours(part, numbers, what))
  }
  return (
    <>
      <Text fontWeight="600">{`${counted(numbers.length, 'contour')} chosen`}</Text>
      <FilmColour
        label="Film of these contours"
        film={choices[0]?.film ?? part.film}
        onChange={(film) => change({ film })}
      />
      <UseChoice
        label="What these contours are for"
        value={choices[0]?.use ?? first?.use ?? 'cut'}
        options={USE_WORDS}
        onChange={(use) => change({ use })}
      />
      <Flex gap="2">
        <Button size="sm" variant="outline" onClick={() => change({ off: !off })}>
          {off ? 'Take back in' : 'Leave out'}
        </Button>
        {choices.some((choice) => choice?.film || choice?.use) && (
          <Button size="sm" variant="outline" onClick={() => change({ film: null, use: null })}>
            As they were read
          </Button>
        )}
      </Flex>
    </>
  )
}

interface NoteProps {
  said: string
  action: string | null
  onAction?: () => void
}

function Note({ said, action, onAction }: NoteProps) {
  return (
    <Box bg="thinTint" borderRadius="sm" px="2.5" py="2" fontSize="sm">
      <Text>{said}</Text>
      {action && (
        <Flex mt="1.5">
          <Button size="xs" variant="outline" bg="card" onClick={onAction}>
            {action}
          </Button>
        </Flex>
      )}
    </Box>
  )
}
