import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useMutation } from '@tanstack/react-query'
import { FileInput } from 'lucide-react'
import { type DragEvent, useEffect, useRef, useState } from 'react'
import { answer, api, asProblem, type Schemas } from '../../shared/api/client'
import { upload } from '../../shared/api/upload'
import { useFileKinds } from '../../shared/api/useFileKinds'
import { counted } from '../../shared/design/counted'
import { useDesign } from '../../shared/design/store'
import { showLength } from '../../shared/design/units'
import { useUnit } from '../../shared/evaluation/store'
import { LengthRow } from '../../shared/fields/LengthRow'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { Segments } from '../../shared/fields/Segments'
import { Tile } from '../../shared/fields/Tile'
import { middleOfView, put } from './actions'
import { freshId } from './parts'
import { useBuild } from './store'

type Read = Schemas['ArtworkOut']
type Units = '' | 'mm' | 'in'

const Drop = chakra('button', {
  base: {
    display: 'grid',
    justifyItems: 'center',
    gap: '2',
    p: '8',
    borderWidth: '2px',
    borderStyle: 'dashed',
    borderColor: 'edge',
    borderRadius: 'md',
    bg: 'paper',
    cursor: 'pointer',
    fontWeight: '600',
    '&[data-over=true]': { borderColor: 'knife' },
  },
})
const PageButton = chakra(Tile, {
  base: {
    display: 'grid',
    justifyItems: 'center',
    gap: '1',
    p: '2',
    '& img': { maxWidth: '100%', maxHeight: '120px', boxShadow: '0 0 0 1px {colors.rule}' },
  },
})

const OR = new Intl.ListFormat('en-GB', { type: 'disjunction' })

/** A drawing of the maker's own: chosen or dropped, its page chosen by picture, its size asked where it is not
 * said. */
export function DrawingPicker() {
  const input = useRef<HTMLInputElement>(null)
  const [over, setOver] = useState(false)
  const [file, setFile] = useState<File | null>(null)
  const [page, setPage] = useState(1)
  const { pick } = useBuild.getState()
  const read = useMutation({
    mutationFn: ({ file, page, units }: { file: File; page: number; units: Units }) =>
      answer(api.POST('/api/artwork/read', upload(file, { page, units }))),
  })
  const pages = useMutation({
    mutationFn: ({ file, start }: { file: File; start: number }) =>
      answer(api.POST('/api/artwork/pages', upload(file, { start }))),
  })

  async function take(chosen: File | undefined) {
    if (!chosen) return
    setFile(chosen)
    setPage(1)
    read.reset()
    const found = await pages.mutateAsync({ file: chosen, start: 1 }).catch(() => null)
    if (found?.count === 1) read.mutate({ file: chosen, page: 1, units: '' })
  }

  function drop(event: DragEvent) {
    event.preventDefault()
    setOver(false)
    void take(event.dataTransfer.files[0])
  }

  const kinds = useFileKinds().read
  const endings = kinds.flatMap(({ suffixes }) => suffixes)
  const names = OR.format(kinds.map(({ name }) => name))
  const dropped = useBuild((s) => s.dropped)
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each file that is dropped
  useEffect(() => {
    if (!dropped) return
    useBuild.setState({ dropped: null })
    void take(dropped)
  }, [dropped])

  const problem = pages.error ?? read.error
  const told = problem ? asProblem(problem) : null
  return (
    <Flex direction="column" minHeight="0" flex="1">
      <Flex gap="2" p="4" pb="2" align="center" justify="space-between">
        <Text as="h2" fontSize="lg" fontWeight="700">
          A drawing of your own
        </Text>
        <Button size="sm" variant="outline" onClick={() => pick(null)}>
          Back
        </Button>
      </Flex>
      <Flex direction="column" gap="3" overflowY="auto" flex="1" px="4" pb="4">
        <input
          ref={input}
          type="file"
          aria-label="Drawing"
          accept={endings.map((ending) => `.${ending}`).join()}
          hidden
          onChange={(e) => {
            void take(e.target.files?.[0])
            e.target.value = ''
          }}
        />
        <Drop
          type="button"
          data-over={over}
          onClick={() => input.current?.click()}
          onDragOver={(e) => {
            e.preventDefault()
            setOver(true)
          }}
          onDragLeave={() => setOver(false)}
          onDrop={drop}
        >
          <FileInput size={28} />
          {file ? file.name : names ? `Choose or drop an ${names} file` : 'Choose or drop a file'}
        </Drop>
        {(pages.isPending || read.isPending) && <Text color="softInk">Reading…</Text>}
        {told && <ProblemNote what={told.message} todo={told.todo} />}
        {file && (pages.data?.count ?? 1) > 1 && (
          <Pages
            found={pages.data}
            page={page}
            onMore={(start) => pages.mutate({ file, start })}
            onChoose={(number) => {
              setPage(number)
              read.mutate({ file, page: number, units: '' })
            }}
          />
        )}
        {file && read.data && (
          <Found
            key={`${file.name} ${page}`}
            read={read.data}
            onUnits={(units) => read.mutate({ file, page, units })}
          />
        )}
      </Flex>
    </Flex>
  )
}

interface PagesProps {
  found: Schemas['PagesOut'] | undefined
  page: number
  onMore: (start: number) => void
  onChoose: (page: number) => void
}

function Pages({ found, page, onMore, onChoose }: PagesProps) {
  if (!found) return null
  const [first, last] = [found.pages[0]?.number ?? 1, found.pages.at(-1)?.number ?? 1]
  return (
    <>
      <Text fontWeight="600">{`${found.count} pages: choose one`}</Text>
      <Box display="grid" gridTemplateColumns="repeat(3, 1fr)" gap="2" role="group" aria-label="Pages">
        {found.pages.map(({ number, picture }) => (
          <PageButton
            key={number}
            type="button"
            aria-pressed={number === page}
            onClick={() => onChoose(number)}
          >
            <img src={picture} alt="" />
            {`Page ${number}`}
          </PageButton>
        ))}
      </Box>
      {found.count > found.pages.length && (
        <Flex gap="2">
          <Button
            size="sm"
            variant="outline"
            disabled={first === 1}
            onClick={() => onMore(Math.max(1, first - 12))}
          >
            Pages before
          </Button>
          <Button size="sm" variant="outline" disabled={last >= found.count} onClick={() => onMore(last + 1)}>
            Pages after
          </Button>
        </Flex>
      )}
    </>
  )
}

/** What was read: its picture, its size, what is to be told, and the way onto the work. */
function Found({ read, onUnits }: { read: Read; onUnits: (units: Units) => void }) {
  const unit = useUnit()
  const [units, setUnits] = useState<Units>('')
  const [wide, setWide] = useState<number | null>(null)
  const width = wide ?? read.width_mm
  const factor = width / read.width_mm
  const items = read.artwork.items
  const half = Math.max(read.width_mm, read.height_mm) / 2 || 1

  function take() {
    const { recipe } = useDesign.getState()
    const grown = Math.min(100, Math.max(0.01, factor))
    put({
      ...read.artwork,
      id: freshId(recipe, 'artwork'),
      place: middleOfView(),
      across: grown,
      down: grown,
    })
    useBuild.getState().pick(null)
  }

  return (
    <>
      <Box bg="paper" borderRadius="md" height="190px" p="2">
        <svg
          width="100%"
          height="100%"
          viewBox={`${-half * 1.04} ${-half * 1.04} ${half * 2.08} ${half * 2.08}`}
          aria-label="What was read"
          role="img"
        >
          {items.map((item) => (
            <path
              key={item.d}
              d={item.d}
              fill={item.line ? 'none' : item.film}
              fillRule="evenodd"
              stroke={item.line ? item.film : 'none'}
              strokeWidth="1.5"
              vectorEffect="non-scaling-stroke"
            />
          ))}
        </svg>
      </Box>
      <Text>
        {`${showLength(width, unit, 1)} × ${showLength(read.height_mm * factor, unit, 1)}, ${drawnAs(items)}`}
      </Text>
      {!read.size_stated && (
        <Text bg="thinTint" borderRadius="sm" px="2.5" py="2" fontSize="sm">
          The file does not say how large it is. Say what its numbers mean, or how wide it is to be.
        </Text>
      )}
      {(!read.size_stated || units !== '') && (
        <Segments
          label="Its numbers are"
          size="xs"
          value={units}
          options={[
            { value: '', label: 'As usual' },
            { value: 'mm', label: 'Millimetres' },
            { value: 'in', label: 'Inches' },
          ]}
          onChange={(next) => {
            setUnits(next)
            setWide(null)
            onUnits(next)
          }}
          fill
        />
      )}
      <LengthRow label="Width" mm={width} unit={unit} min={0.5} max={4000} stepMm={1} onChange={setWide} />
      {read.notes.map((note) => (
        <Text key={note} fontSize="sm" color="softInk">
          {note}
        </Text>
      ))}
      <Button bg="ink" color="card" onClick={take}>
        Put it on the work
      </Button>
    </>
  )
}

/** What a drawing holds: "3 shapes and 1 line". */
function drawnAs(items: readonly { line: boolean }[]): string {
  const lines = items.filter((item) => item.line).length
  const shapes = items.length - lines
  const told = [shapes > 0 && `${counted(shapes, 'shape')}`, lines > 0 && `${counted(lines, 'line')}`]
  return told.filter(Boolean).join(' and ')
}
