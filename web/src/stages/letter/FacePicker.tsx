import { Button, Flex, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { type KeyboardEvent, useCallback, useMemo, useState } from 'react'
import { answer, api } from '../../shared/api/client'
import { type FaceOut, faceChange } from '../../shared/design/recipe'
import { hearFace } from '../../shared/design/shopDefaults'
import { editOnce, partNow, usePart } from '../../shared/design/store'
import { useAble, useFaces } from '../../shared/faces/useFaces'
import { useRecentFaces } from '../../shared/view/view'
import { FaceFilters } from './FaceFilters'
import { FaceList } from './FaceList'
import { FaceTools } from './FaceTools'
import { ANY, type FaceFilter, facesToShow, systemsOf } from './faceChoice'
import { InstalledFaces } from './InstalledFaces'
import { AddFace, isOwn, useTakeOff } from './OwnFaces'

/** Every face showing the typed word. A face is used as soon as it is touched; the work shows it large. */
export function FacePicker({ onDone }: { onDone: () => void }) {
  const part = usePart((current) => current)
  const faces = useFaces()
  const able = useAble(part.text)
  const used = useRecentFaces((s) => s.used)
  const [filter, setFilter] = useState<FaceFilter>(ANY)
  const [like, setLike] = useState<FaceOut | null>(null)
  const [onComputer, setOnComputer] = useState(false)
  const rows = useRows(faces, filter, able, like)
  const systems = useMemo(() => systemsOf(faces), [faces])
  const { takeOff, note } = useTakeOff()
  const inUse = faces.find((face) => face.slug === part.face.family)
  const own = inUse && isOwn(inUse) ? inUse : undefined

  const done = useCallback(() => {
    used(partNow().face.family)
    onDone()
  }, [used, onDone])

  function onKeyDown(event: KeyboardEvent) {
    const at = rows.findIndex((row) => row.slug === part.face.family)
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key]
    if (step !== undefined) {
      event.preventDefault()
      const next = rows[Math.min(rows.length - 1, Math.max(0, at + step))]
      if (next) choose(next)
    } else if (event.key === 'Enter' || event.key === 'Escape') {
      if (event.target instanceof HTMLButtonElement && event.key === 'Enter') return
      event.preventDefault()
      // What was searched for and found first is meant, where the face in use is not among it.
      const first = rows[0]
      if (event.key === 'Enter' && at < 0 && first) choose(first)
      done()
    }
  }

  if (onComputer)
    return (
      <InstalledFaces
        text={part.text}
        onBack={() => setOnComputer(false)}
        onTaken={(face) => {
          takeNew(face)
          setOnComputer(false)
        }}
      />
    )
  return (
    <Flex direction="column" minHeight="0" flex="1" onKeyDown={onKeyDown}>
      <Flex direction="column" gap="2.5" px="4" py="3" borderBottomWidth="1px" borderColor="rule">
        <Flex justify="space-between" align="center">
          <Text as="h2" fontSize="lg" fontWeight="700">
            Choose a face
          </Text>
          <Button size="sm" bg="ink" color="card" onClick={done}>
            Done
          </Button>
        </Flex>
        <FaceFilters filter={filter} count={faces.length} systems={systems} onChange={setFilter} />
      </Flex>
      {note}
      {own && (
        <Aside
          words={`${own.name} is a face of your own. ${own.licence ? `Licence: ${own.licence}` : 'No licence note.'}`}
        >
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
        </Aside>
      )}
      {like && (
        <Aside words={`Faces that look like ${like.name}, the most similar first`}>
          <Button size="xs" variant="outline" bg="card" flexShrink="0" onClick={() => setLike(null)}>
            All faces
          </Button>
        </Aside>
      )}
      <FaceList
        // Another list begins where the face in use is.
        key={like?.slug ?? ''}
        faces={rows}
        system={able?.system ?? 'Latin'}
        onChoose={choose}
        onTake={done}
      />
      {inUse && <FaceTools face={inUse} onLike={() => setLike(inUse)} />}
      <Flex gap="1.5" px="4" py="2" borderTopWidth="1px" borderColor="rule" wrap="wrap">
        <AddFace onAdded={takeNew} />
        <Button size="xs" variant="outline" bg="card" onClick={() => setOnComputer(true)}>
          On this computer
        </Button>
      </Flex>
    </Flex>
  )
}

/** Sets the words in a face. */
function choose(face: FaceOut) {
  const part = partNow()
  if (face.slug !== part.face.family) editOnce(faceChange(part, face))
}

/** The same in one that was added just now. */
function takeNew(face: FaceOut) {
  hearFace(face)
  choose(face)
}

function Aside({ words, children }: { words: string; children: React.ReactNode }) {
  return (
    <Flex
      align="center"
      justify="space-between"
      gap="3"
      px="4"
      py="2"
      borderBottomWidth="1px"
      borderColor="rule"
    >
      <Text fontSize="sm" color="softInk" truncate title={words}>
        {words}
      </Text>
      {children}
    </Flex>
  )
}

/** Faces that fit, in their order, which stays while the list is open. */
function useRows(
  faces: FaceOut[],
  filter: FaceFilter,
  able: ReturnType<typeof useAble>,
  like: FaceOut | null,
): FaceOut[] {
  const recent = useRecentFaces((s) => s.slugs)
  const slug = like?.slug ?? ''
  const { data } = useQuery({
    queryKey: ['faces like', slug],
    queryFn: ({ signal }) =>
      answer(api.GET('/api/faces/{slug}/like', { params: { path: { slug } }, signal })),
    enabled: slug !== '',
  })
  return useMemo(() => {
    const order = {
      recent,
      able: able && new Set(able.faces),
      like: slug && data ? [slug, ...data] : undefined,
      system: able?.system ?? 'Latin',
    }
    return facesToShow(faces, filter, order)
  }, [faces, filter, recent, able, slug, data])
}
