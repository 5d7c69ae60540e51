import { Box, Button, chakra, Flex, Spinner, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { Printer } from 'lucide-react'
import { useEffect } from 'react'
import { Link, useParams } from 'react-router'
import { answer, api, asProblem } from '../../shared/api/client'
import { download } from '../../shared/api/download'
import { nounOf } from '../../shared/design/counted'
import { motifOf, type Sheet, type Sheets, showDegrees } from '../../shared/design/cutPlan'
import type { Recipe } from '../../shared/design/recipe'
import { showLength } from '../../shared/design/units'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { showDay, usePress } from './PressSection'

const STEPS = [
  'Film lies as the ticket says, and the rollers hold it',
  'Blade, pressure and a test cut are right',
  'Cut, weeded, and all pieces counted',
  'Pressed or laid, and looked at in daylight',
]

/** The page that goes with a job: on the screen, and printed. */
export function Ticket() {
  const { id = '' } = useParams()
  const query = useQuery({
    queryKey: ['ticket', id],
    queryFn: async () => {
      const design = await answer(
        api.GET('/api/designs/{design_id}', { params: { path: { design_id: id } } }),
      )
      const { name, recipe } = design
      const sheets = await answer(api.POST('/api/cut/sheets', { body: { name, recipe } }))
      return { name, recipe, sheets }
    },
    gcTime: 0,
  })
  useEffect(() => {
    document.title = `${query.data?.name ?? 'Ticket'} – ticket – Fulgen`
  }, [query.data])
  const problem = query.error ? asProblem(query.error) : null
  return (
    <Box height="full" overflowY="auto" bg="paper" className="ticket-ground">
      <Flex
        className="not-printed"
        align="center"
        gap="3"
        px="6"
        py="3"
        bg="card"
        borderBottomWidth="1px"
        borderColor="rule"
      >
        <Button asChild size="sm" variant="outline">
          <Link to={`/design/${id}`}>Back to the design</Link>
        </Button>
        <Flex flex="1" />
        {query.data && (
          <>
            <Button
              size="sm"
              variant="outline"
              onClick={() => {
                const { name, recipe } = query.data
                void download(api.POST('/api/cut/ticket', { body: { name, recipe }, parseAs: 'blob' }))
              }}
            >
              Save as PDF
            </Button>
            <Button size="sm" bg="ink" color="card" onClick={() => window.print()}>
              <Printer size={15} /> Print
            </Button>
          </>
        )}
      </Flex>
      {problem && (
        <Box p="6" maxWidth="560px">
          <ProblemNote what={problem.message} todo={problem.todo} />
        </Box>
      )}
      {query.isPending && (
        <Flex p="6" gap="3" color="softInk">
          <Spinner /> Writing the ticket…
        </Flex>
      )}
      {query.data && <Page {...query.data} />}
    </Box>
  )
}

interface PageProps {
  name: string
  recipe: Recipe
  sheets: Sheets
}

function Page({ name, recipe, sheets }: PageProps) {
  const materials = [...new Set(sheets.sheets.map((sheet) => sheet.material))]
  const wide = Math.max(...sheets.sheets.map((sheet) => sheet.width_mm))
  return (
    <Box className="ticket" bg="card" maxWidth="820px" mx="auto" my="6" px="10" py="8" data-testid="ticket">
      <Text as="h1" fontSize="28px" fontWeight="750" lineHeight="1.2">
        {name || 'Lettering'}
      </Text>
      <Text color="softInk" mt="1">
        {[
          sheets.words,
          sheets.face,
          sheets.size,
          recipe.mirror ? 'mirrored, cut from the back' : 'cut as it reads',
          sheets.machine.name,
        ]
          .filter(Boolean)
          .join(' · ')}
      </Text>
      <Flex gap="5" wrap="wrap" mt="5" align="start">
        {sheets.sheets.map((sheet) => (
          <SheetPicture
            key={`${sheet.film} ${sheet.number}`}
            sheets={sheets}
            sheet={sheet}
            unit={recipe.unit}
            share={(sheet.width_mm / wide) * (sheets.sheets.length > 1 ? 0.48 : 0.7)}
          />
        ))}
      </Flex>
      {materials.map((material) => (
        <Pressing key={material} material={material} unit={recipe.unit} />
      ))}
      <Heading>Check list</Heading>
      {[
        ...sheets.checklist
          .filter((p) => p.state !== 'good' && p.about !== 'press')
          .map((p) => `${p.what} ${p.todo}`.trim()),
        ...STEPS,
      ].map((line) => (
        <Flex key={line} gap="2.5" py="1">
          <Box width="14px" height="14px" mt="1" borderWidth="1.5px" borderColor="ink" flexShrink="0" />
          <Text>{line}</Text>
        </Flex>
      ))}
    </Box>
  )
}

const Heading = chakra('h2', { base: { fontSize: 'lg', fontWeight: '700', mt: '6', mb: '1.5' } })

interface PictureProps {
  sheets: Sheets
  sheet: Sheet
  unit: Recipe['unit']
  share: number
}

/** A sheet to scale, with what is cut from it. */
function SheetPicture({ sheets, sheet, unit, share }: PictureProps) {
  const { width_mm: wide, height_mm: high } = sheet
  return (
    <Box width={`${share * 100}%`} minWidth="200px">
      <svg
        viewBox={`${-wide / 200} ${-wide / 200} ${wide * 1.01} ${high + wide / 100}`}
        width="100%"
        style={{ maxHeight: 360 }}
        role="img"
      >
        <title>{`${sheet.film_name}, sheet ${sheet.number}`}</title>
        <rect
          width={wide}
          height={high}
          fill="none"
          stroke="var(--chakra-colors-ink)"
          strokeWidth={wide / 300}
        />
        {sheet.laid.map((laid) => {
          const motif = motifOf(sheets, laid)
          return motif ? (
            <path
              key={`${laid.motif} ${laid.copy_number}`}
              d={motif.d}
              fill={motif.film}
              transform={`translate(${laid.x} ${laid.y}) rotate(${laid.turn})`}
            />
          ) : null
        })}
      </svg>
      <Text fontWeight="650" mt="1">
        {sheet.film_name}, sheet {sheet.number} of {sheet.of}
      </Text>
      <Text fontSize="sm" color="softInk">
        {showLength(wide, unit, 1)} × {showLength(high, unit, 1)}, {sheet.pieces}{' '}
        {nounOf(sheet.pieces, 'piece')}
        {sheet.marks > 0 && ` and ${sheet.marks} marks`}. {sheet.side}
      </Text>
    </Box>
  )
}

function Pressing({ material, unit }: { material: string; unit: Recipe['unit'] }) {
  const press = usePress(material)
  if (!press) return null
  const said = [
    press.side,
    press.degrees !== null && showDegrees(press.degrees, unit),
    press.seconds !== null && `${press.seconds} s`,
    press.passes > 1 && `${press.passes} times`,
    press.peel && `peel ${press.peel}`,
    press.cover,
  ].filter(Boolean)
  if (said.length === 0 && press.tests.length === 0) return null
  return (
    <>
      <Heading>Pressing {material.toLowerCase()}</Heading>
      <Text>{said.join(', ')}</Text>
      {press.tests.map((test) => (
        <Text key={test.id} fontSize="sm" color={test.good ? 'hold' : 'thin'}>
          {test.good ? 'Good' : 'Warning'}, {showDay(test.on)}: {test.words}
        </Text>
      ))}
    </>
  )
}
