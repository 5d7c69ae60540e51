import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Trash2 } from 'lucide-react'
import { answer, api, type Schemas } from '../../shared/api/client'
import { type Frame, newLettering, type Recipe } from '../../shared/design/recipe'
import { partsOf, selectionNow } from '../../shared/design/selection'
import { useDesign } from '../../shared/design/store'
import { IconTool } from '../../shared/fields/IconTool'
import { OutlinePicture, Tile } from '../../shared/fields/Tile'
import { frameNames, takeKept } from './actions'
import { type FrameForm, framed, namesFor, ofForm, withKept } from './frames'
import { useBuild } from './store'

export const useFrameForms = () =>
  useQuery({
    queryKey: ['frames'],
    queryFn: () => answer(api.GET('/api/frames')),
    staleTime: Number.POSITIVE_INFINITY,
  }).data

const useOwnFrames = () =>
  useQuery({ queryKey: ['own frames'], queryFn: () => answer(api.GET('/api/frames/own')) }).data

const Choice = chakra(Tile, {
  base: {
    display: 'grid',
    gridTemplateRows: '96px auto',
    gap: '1.5',
    p: '2.5',
    textAlign: 'left',
    width: 'full',
    _hover: { borderColor: 'ink' },
  },
})

/** What stands in a frame while a design has no name yet. */
const SAMPLE = newLettering({ id: 'sample', text: 'Name' })

/** Names as they are shown in the pictures of frames. */
function shownNames(recipe: Recipe, most: number) {
  const names = namesFor(recipe, partsOf(selectionNow()), most).filter((name) => name.text.trim() !== '')
  return names.length > 0 ? names : [SAMPLE]
}

/** A design of nothing but names in a frame. */
const withNothingElse = (recipe: Recipe): Recipe => ({
  ...recipe,
  bars: [],
  touch_ups: [],
  accepted_findings: [],
  parts: [],
})

/** The frames by picture, with the design's own name in each. */
export function FrameLibrary() {
  const forms = useFrameForms() ?? []
  const own = useOwnFrames() ?? []
  const { pick } = useBuild.getState()
  return (
    <Flex direction="column" minHeight="0" flex="1">
      <Flex gap="2" p="4" pb="2" align="center" justify="space-between">
        <Text as="h2" fontSize="lg" fontWeight="700">
          Put a name in a frame
        </Text>
        <Button size="sm" variant="outline" onClick={() => pick(null)}>
          Back
        </Button>
      </Flex>
      <Box overflowY="auto" flex="1" px="4" pb="4">
        {own.length > 0 && (
          <Group title="The shop’s own">
            {own.map((frame) => (
              <OwnChoice key={frame.id} frame={frame} />
            ))}
          </Group>
        )}
        <Group title={own.length > 0 ? 'Drawn for you' : ''}>
          {forms.map((form) => (
            <FormChoice key={form.name} form={form} />
          ))}
        </Group>
      </Box>
    </Flex>
  )
}

function Group({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <Box as="section" mt="1" mb="4">
      {title && (
        <Text as="h3" fontWeight="700" mb="2">
          {title}
        </Text>
      )}
      <Box display="grid" gridTemplateColumns="repeat(3, 1fr)" gap="2">
        {children}
      </Box>
    </Box>
  )
}

function FormChoice({ form }: { form: FrameForm }) {
  const recipe = useDesign((s) => s.recipe)
  const names = shownNames(recipe, form.most_names)
  const more: Partial<Frame> = ofForm(form)
  const { recipe: looked, id } = framed(
    { ...withNothingElse(recipe), parts: [...names] },
    lettersFor(form, names),
    more,
  )
  return (
    <Choice type="button" onClick={() => frameNames(more, form.most_names)}>
      {/* A picture is too small to show what is mended. */}
      <Picture recipe={{ ...looked, ready: null }} part={id} />
      <Box>
        <Text fontWeight="650">{capital(form.name)}</Text>
        <Text fontSize="xs" color="softInk">
          {form.description}
        </Text>
      </Box>
    </Choice>
  )
}

/** A monogram is shown with as many letters as it takes. */
function lettersFor(form: FrameForm, names: ReturnType<typeof shownNames>) {
  if (!form.name.includes('monogram')) return names
  return names.map((name) => ({ ...name, text: initials(name.text), letter_ids: [] }))
}

function initials(text: string) {
  const letters = [...text.replace(/\P{L}/gu, '')].map((sign) => sign.toUpperCase())
  return letters.length > 3 ? letters.slice(0, 3).join('') : letters.join('')
}

function OwnChoice({ frame }: { frame: Schemas['OwnFrameOut'] }) {
  const recipe = useDesign((s) => s.recipe)
  const client = useQueryClient()
  const bare = withNothingElse(recipe)
  const names = shownNames(recipe, 1)
  const looked = withKept({ ...bare, parts: [...names] }, frame.recipe, names, frame.name)
  async function forget() {
    await api.DELETE('/api/frames/own/{frame_id}', { params: { path: { frame_id: frame.id } } })
    await client.invalidateQueries({ queryKey: ['own frames'] })
  }
  return (
    <Box position="relative">
      <Choice type="button" onClick={() => takeKept(frame.recipe, frame.name)}>
        <Picture recipe={looked.recipe} part={looked.id} />
        <Text fontWeight="650" truncate>
          {frame.name}
        </Text>
      </Choice>
      <IconTool
        name={`Take ${frame.name} out of the library`}
        size="2xs"
        variant="plain"
        position="absolute"
        top="1"
        right="1"
        onClick={forget}
      >
        <Trash2 size={14} />
      </IconTool>
    </Box>
  )
}

const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1)

/** A frame as it would be cut. */
function Picture({ recipe, part }: { recipe: Recipe; part: string }) {
  const { data } = useQuery({
    queryKey: ['frame picture', recipe, part],
    queryFn: ({ signal }) => answer(api.POST('/api/frames/picture', { body: { recipe, part }, signal })),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 120_000,
    retry: false,
  })
  if (data?.problem)
    return (
      <Text fontSize="xs" color="softInk" alignSelf="center">
        {data.problem.what}
      </Text>
    )
  if (!data?.box) return <Box bg="paper" borderRadius="sm" data-waiting />
  const { x, y, width, height } = data.box
  const margin = Math.max(width, height) * 0.02
  const box = { x: x - margin, y: y - margin, width: width + 2 * margin, height: height + 2 * margin }
  return <OutlinePicture box={box} d={data.films.map((film) => film.d).join('')} />
}
