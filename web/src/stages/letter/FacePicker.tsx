import { Box, Button, chakra, Flex, Input, Text } from '@chakra-ui/react'
import { Search } from 'lucide-react'
import { type KeyboardEvent, useEffect, useMemo, useRef, useState } from 'react'
import { type FaceOut, faceChange, type Unit } from '../../shared/design/recipe'
import { editOnce, partNow, useDesign, usePart } from '../../shared/design/store'
import { showNumber } from '../../shared/design/units'
import { usePartView } from '../../shared/evaluation/store'
import { type Sample, useFaces, useSamples } from '../../shared/faces/useFaces'
import { useRecentFaces } from '../../shared/view/view'
import { AddFace, isOwn, RatingProgress, useTakeOff } from './OwnFaces'
import { SampleDrawing } from './SampleDrawing'

const KINDS = [
  { value: 'all', label: 'All' },
  { value: 'script', label: 'Script' },
  { value: 'slab', label: 'Slab' },
  { value: 'wide', label: 'Wide' },
  { value: 'condensed', label: 'Narrow' },
  { value: 'rounded', label: 'Rounded' },
  { value: 'own', label: 'Own' },
] as const

const JOINS = ['joins by itself', 'nearly joins', 'needs joining'] as const

type Kind = (typeof KINDS)[number]['value']
const KIND_NAMES: Record<string, string> = Object.fromEntries(KINDS.map((k) => [k.value, k.label]))

/** Every face showing the typed word. A face is used as soon as it is touched; the work shows it large. */
export function FacePicker({ onDone }: { onDone: () => void }) {
  const part = usePart((current) => current)
  const faces = useFaces()
  const samples = useSamples(part.text)
  const unit = useDesign((s) => s.recipe.unit)
  const used = useRecentFaces((s) => s.used)
  const [search, setSearch] = useState('')
  const [kind, setKind] = useState<Kind>('all')
  const [joins, setJoins] = useState<string | null>(null)
  const rows = useRows(faces, search, kind, joins)
  const sizeMm = useSizeMm()
  const { takeOff, note } = useTakeOff()
  const own = faces.find((face) => face.slug === part.face.family && isOwn(face))
  const list = useRef<HTMLDivElement>(null)

  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the list opens
  useEffect(() => {
    list.current?.querySelector('[aria-selected=true]')?.scrollIntoView({ block: 'nearest' })
  }, [rows.length > 0])

  function choose(face: FaceOut) {
    if (face.slug === part.face.family) return
    editOnce(faceChange(part, face))
  }

  function done() {
    used(part.face.family)
    onDone()
  }

  function onKeyDown(event: KeyboardEvent) {
    const at = rows.findIndex((row) => row.slug === part.face.family)
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key]
    if (step !== undefined) {
      event.preventDefault()
      const next = rows[Math.min(rows.length - 1, Math.max(0, at + step))]
      if (next) {
        choose(next)
        list.current?.querySelector(`[data-face="${next.slug}"]`)?.scrollIntoView({ block: 'nearest' })
      }
    } else if (event.key === 'Enter' || event.key === 'Escape') {
      event.preventDefault()
      // What was searched for and found first is meant, where the face in use is not among it.
      const first = rows[0]
      if (event.key === 'Enter' && at < 0 && first) choose(first)
      done()
    }
  }

  return (
    <Flex direction="column" minHeight="0" flex="1" onKeyDown={onKeyDown}>
      <Flex direction="column" gap="3" p="4" borderBottomWidth="1px" borderColor="rule">
        <Flex justify="space-between" align="center">
          <Text as="h2" fontSize="lg" fontWeight="700">
            Choose a face
          </Text>
          <Button size="sm" bg="ink" color="card" onClick={done}>
            Done
          </Button>
        </Flex>
        <Box position="relative">
          <Input
            aria-label="Search faces"
            placeholder="Search by name"
            value={search}
            onChange={(e) => setSearch(e.target.value)}
            size="sm"
            pl="8"
            bg="card"
            borderColor="edge"
            autoFocus
            spellCheck={false}
          />
          <Box position="absolute" left="2.5" top="2" color="softInk" pointerEvents="none">
            <Search size={16} />
          </Box>
        </Box>
        <Flex gap="1" wrap="wrap" role="group" aria-label="Kinds of faces">
          {KINDS.map((k) => (
            <Button
              key={k.value}
              size="xs"
              borderRadius="full"
              variant="outline"
              aria-pressed={kind === k.value}
              bg={kind === k.value ? 'ink' : 'card'}
              color={kind === k.value ? 'card' : 'ink'}
              onClick={() => setKind(k.value)}
            >
              {k.label}
            </Button>
          ))}
        </Flex>
        <Flex gap="1" wrap="wrap" role="group" aria-label="How faces join">
          {JOINS.map((word) => (
            <Button
              key={word}
              size="xs"
              borderRadius="full"
              variant="outline"
              aria-pressed={joins === word}
              bg={joins === word ? 'ink' : 'card'}
              color={joins === word ? 'card' : 'ink'}
              onClick={() => setJoins(joins === word ? null : word)}
            >
              {word}
            </Button>
          ))}
          <Box flex="1" />
          <AddFace
            onAdded={(face) => {
              editOnce(faceChange(partNow(), face))
            }}
          />
        </Flex>
      </Flex>
      {note}
      {own && (
        <Flex
          align="center"
          justify="space-between"
          gap="3"
          px="4"
          py="2"
          borderBottomWidth="1px"
          borderColor="rule"
        >
          <Text fontSize="sm" color="softInk" truncate>
            {own.name} is a face of your own. {own.licence ? `Licence: ${own.licence}` : 'No licence note.'}
          </Text>
          <Button
            size="xs"
            variant="outline"
            bg="card"
            flexShrink="0"
            aria-label={`Take ${own.name} off the list`}
            onClick={() => takeOff(own)}
          >
            Take off the list
          </Button>
        </Flex>
      )}
      <Box
        ref={list}
        role="listbox"
        aria-label="Faces"
        tabIndex={0}
        overflowY="auto"
        flex="1"
        minHeight="0"
        py="1"
      >
        {rows.map((face) => (
          <FaceRow
            key={face.slug}
            face={face}
            sample={samples.get(face.slug)}
            chosen={face.slug === part.face.family}
            onChoose={() => choose(face)}
            onTake={done}
            sizeMm={sizeMm}
            unit={unit}
          />
        ))}
        {rows.length === 0 && faces.length > 0 && (
          <Text color="softInk" p="4">
            No face is like that. Clear the search, or choose “All” and no way of joining.
          </Text>
        )}
      </Box>
    </Flex>
  )
}

/** Faces that match, those used lately first. The order stays while the list is open. */
function useRows(faces: FaceOut[], search: string, kind: Kind, joins: string | null): FaceOut[] {
  const recent = useRecentFaces((s) => s.slugs)
  return useMemo(() => {
    const wanted = search.trim().toLowerCase()
    const fits = faces.filter(
      (f) =>
        (kind === 'all' || f.kind === kind) &&
        (joins === null || f.joins?.words === joins) &&
        f.name.toLowerCase().includes(wanted),
    )
    const rank = (face: FaceOut) => (recent.includes(face.slug) ? recent.indexOf(face.slug) : recent.length)
    return fits.toSorted((a, b) => rank(a) - rank(b))
  }, [faces, search, kind, joins, recent])
}

const Row = chakra('div')

interface RowProps {
  face: FaceOut
  sample: Sample | undefined
  chosen: boolean
  onChoose: () => void
  onTake: () => void
  /** The size in use, which says how thin the thinnest stroke is. */
  sizeMm: number | undefined
  unit: Unit
}

function FaceRow({ face, sample, chosen, onChoose, onTake, sizeMm, unit }: RowProps) {
  const lacks = sample?.lacks ?? []
  return (
    <Row
      role="option"
      aria-selected={chosen}
      aria-label={face.name}
      data-face={face.slug}
      tabIndex={-1}
      onClick={onChoose}
      onDoubleClick={onTake}
      cursor="pointer"
      px="4"
      py="2.5"
      borderLeftWidth="3px"
      borderColor={chosen ? 'knife' : 'transparent'}
      bg={chosen ? 'knifeTint' : undefined}
      _hover={{ bg: chosen ? 'knifeTint' : 'paper' }}
      opacity={lacks.length > 0 ? 0.6 : 1}
    >
      <SampleDrawing sample={sample} height={52} />
      <Flex justify="space-between" fontSize="sm" mt="1.5" gap="3">
        <Text fontWeight="600" whiteSpace="nowrap">
          {face.name}
        </Text>
        <Text color={lacks.length > 0 ? 'thin' : 'softInk'} truncate>
          {lacks.length > 0 ? `has no ${lacks.slice(0, 4).join(' ')}` : about(face)}
        </Text>
      </Flex>
      <Flex justify="space-between" align="center" fontSize="xs" color="softInk" gap="3">
        {face.joins ? (
          <Text truncate data-joins={face.joins.words}>
            {joining(face.joins)}
            {sizeMm !== undefined &&
              `, strokes from ${showNumber(face.joins.thinnest * sizeMm, unit, unit === 'in' ? 3 : 1)} ${unit}`}
          </Text>
        ) : (
          <RatingProgress share={face.rated_share} />
        )}
      </Flex>
    </Row>
  )
}

/** "joins by itself: 97 %, 48 % after a capital". */
function joining(joins: NonNullable<FaceOut['joins']>): string {
  const percent = (share: number) => `${Math.round(share * 100)} %`
  return `${joins.words}: ${percent(joins.small)} of small letters, ${percent(joins.capital)} after a capital`
}

/** The size of the face in use, in mm. */
function useSizeMm(): number | undefined {
  return usePartView()?.size_mm
}

function about(face: FaceOut): string {
  const kind = KIND_NAMES[face.kind] ?? face.kind
  if (face.axes.some((a) => a.tag === 'wght')) return `${kind}, any weight`
  return face.weights.length > 1 ? `${kind}, ${face.weights.length} weights` : kind
}
