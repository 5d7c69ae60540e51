import { Box, Button, Flex, Input, Text } from '@chakra-ui/react'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Plus } from 'lucide-react'
import { useRef, useState } from 'react'
import { answer, api, asProblem } from '../../shared/api/client'
import { upload } from '../../shared/api/upload'
import type { FaceOut } from '../../shared/design/recipe'
import { useFacesChanged } from '../../shared/faces/useFaces'
import { ProblemNote } from '../../shared/fields/ProblemNote'

export const isOwn = (face: FaceOut) => face.kind === 'own'

/** Adds a face file of the maker's own; says what is wrong with one that cannot be used. */
export function AddFace({ onAdded }: { onAdded: (face: FaceOut) => void }) {
  const changed = useFacesChanged()
  const input = useRef<HTMLInputElement>(null)
  const [open, setOpen] = useState(false)
  const [licence, setLicence] = useState('')
  const add = useMutation({
    mutationFn: (file: File) => answer(api.POST('/api/own-faces', upload(file, { licence }))),
    onSuccess: async (face) => {
      setOpen(false)
      setLicence('')
      await changed()
      onAdded(face)
    },
  })
  const problem = add.error ? asProblem(add.error) : null
  if (!open)
    return (
      <Button size="xs" variant="outline" bg="card" onClick={() => setOpen(true)}>
        <Plus size={14} /> Add your own
      </Button>
    )
  return (
    <Flex direction="column" gap="2" p="3" bg="paper" borderRadius="md" width="full">
      <Text fontSize="sm">
        A TTF, OTF, WOFF or WOFF2 file, up to 12 MB. It is kept on this machine. Make sure that its licence
        lets you cut and sell what you make with it.
      </Text>
      <Input
        aria-label="Licence note"
        placeholder="Licence note (for yourself)"
        value={licence}
        maxLength={400}
        onChange={(e) => setLicence(e.target.value)}
        size="sm"
        bg="card"
        borderColor="edge"
      />
      <input
        ref={input}
        type="file"
        aria-label="Face file"
        accept=".ttf,.otf,.woff,.woff2"
        hidden
        onChange={(e) => {
          const file = e.target.files?.[0]
          if (file) add.mutate(file)
          e.target.value = ''
        }}
      />
      {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
      <Flex gap="2">
        <Button
          size="sm"
          bg="ink"
          color="card"
          loading={add.isPending}
          onClick={() => input.current?.click()}
        >
          Choose the file
        </Button>
        <Button size="sm" variant="outline" onClick={() => setOpen(false)}>
          Not now
        </Button>
      </Flex>
    </Flex>
  )
}

/** Takes a face of the maker's own off the list; it can be put back at once. */
export function useTakeOff() {
  const queries = useQueryClient()
  const [gone, setGone] = useState<FaceOut | null>(null)
  const refresh = () => queries.invalidateQueries({ queryKey: ['faces'] })
  const takeOff = useMutation({
    mutationFn: (face: FaceOut) =>
      answer(api.DELETE('/api/own-faces/{slug}', { params: { path: { slug: face.slug } } })),
    onSuccess: (_, face) => {
      setGone(face)
      return refresh()
    },
  })
  const putBack = useMutation({
    mutationFn: (face: FaceOut) =>
      answer(api.POST('/api/own-faces/{slug}/restore', { params: { path: { slug: face.slug } } })),
    onSuccess: () => {
      setGone(null)
      return refresh()
    },
  })
  const note = gone && (
    <Flex
      role="status"
      align="center"
      justify="space-between"
      gap="3"
      px="4"
      py="2"
      bg="thinTint"
      fontSize="sm"
    >
      <Text>{gone.name} is off the list. Designs that use it keep it.</Text>
      <Button size="xs" variant="outline" bg="card" onClick={() => putBack.mutate(gone)}>
        Put it back
      </Button>
    </Flex>
  )
  return { takeOff: (face: FaceOut) => takeOff.mutate(face), note }
}

/** How far the measuring of a new face is. */
export function RatingProgress({ share }: { share: number }) {
  return (
    <Flex align="center" gap="2" role="status">
      <Text>measuring how it joins</Text>
      <Box width="48px" height="4px" bg="rule" borderRadius="full" overflow="hidden">
        <Box height="full" bg="ink" style={{ width: `${Math.max(6, share * 100)}%` }} />
      </Box>
    </Flex>
  )
}
