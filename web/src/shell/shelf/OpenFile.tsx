import { Button, chakra, Dialog, Flex, Portal, Text } from '@chakra-ui/react'
import { useMutation } from '@tanstack/react-query'
import { FolderOpen } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { answer, api, asProblem, type Schemas } from '../../shared/api/client'
import { upload } from '../../shared/api/upload'
import { useFileKinds } from '../../shared/api/useFileKinds'
import { beginning } from '../../shared/design/rememberedChoices'
import { ProblemNote } from '../../shared/fields/ProblemNote'

type Opened = Schemas['OpenedFile']

/** A file as a design: one that Fulgen wrote is the design again, any other is a drawing. It is chosen, or dropped
 * anywhere on the shelf. */
export function OpenFile() {
  const navigate = useNavigate()
  const input = useRef<HTMLInputElement>(null)
  const suffixes = useFileKinds().read.flatMap((kind) => kind.suffixes)
  const [both, setBoth] = useState<Opened | null>(null)
  const making = useMutation({
    mutationFn: ({ name, recipe }: Schemas['NewDesign']) =>
      answer(api.POST('/api/designs', { body: { name, recipe } as Schemas['NewDesign'] })),
    onSuccess: ({ id }) => navigate(`/design/${id}`),
  })
  const opening = useMutation({
    mutationFn: (file: File) => answer(api.POST('/api/artwork/open', upload(file))),
    onSuccess: (opened) => {
      if (opened.recipe && opened.drawing) setBoth(opened)
      else making.mutate(opened.recipe ? asDesign(opened) : asDrawing(opened))
    },
  })
  const { mutate } = opening
  useEffect(() => {
    const over = (event: DragEvent) => event.dataTransfer?.types.includes('Files') && event.preventDefault()
    const drop = (event: DragEvent) => {
      const file = event.dataTransfer?.files[0]
      if (!file) return
      event.preventDefault()
      mutate(file)
    }
    window.addEventListener('dragover', over)
    window.addEventListener('drop', drop)
    return () => {
      window.removeEventListener('dragover', over)
      window.removeEventListener('drop', drop)
    }
  }, [mutate])
  const error = opening.error ?? making.error
  const problem = error ? asProblem(error) : null
  const forget = () => {
    opening.reset()
    making.reset()
  }
  return (
    <>
      <Button
        size="lg"
        variant="outline"
        bg="card"
        fontWeight="650"
        loading={opening.isPending || making.isPending}
        onClick={() => input.current?.click()}
        title="A file that Fulgen wrote, a recipe, or a drawing; or drop it here"
      >
        <FolderOpen size={18} />
        Open a file
      </Button>
      <chakra.input
        ref={input}
        type="file"
        hidden
        aria-label="A file to open"
        accept={['.json', ...suffixes].join(',')}
        onChange={(e) => {
          const file = e.target.files?.[0]
          e.target.value = ''
          if (file) mutate(file)
        }}
      />
      <Ask
        open={both !== null}
        title="This file was changed since Fulgen wrote it"
        onClose={() => setBoth(null)}
      >
        <Text>
          It carries its design as it was then; what it draws now is something else. Both can be opened.
        </Text>
        <Flex gap="3" mt="4" wrap="wrap">
          <Button bg="ink" color="card" onClick={() => both && making.mutate(asDesign(both))}>
            Open the design
          </Button>
          <Button variant="outline" onClick={() => both && making.mutate(asDrawing(both))}>
            Open what it draws now
          </Button>
        </Flex>
      </Ask>
      <Ask open={problem !== null} title="The file was not opened" onClose={forget}>
        {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
      </Ask>
    </>
  )
}

const asDesign = ({ name, recipe }: Opened) => ({ name, recipe }) as Schemas['NewDesign']

/** A drawing as a design of nothing else. */
const asDrawing = ({ name, drawing }: Opened) => {
  const parts = drawing ? [{ ...drawing.artwork, id: 'artwork-1' }] : []
  return { name, recipe: { ...beginning(), parts } } as Schemas['NewDesign']
}

interface AskProps {
  open: boolean
  title: string
  onClose: () => void
  children: React.ReactNode
}

function Ask({ open, title, onClose, children }: AskProps) {
  return (
    <Dialog.Root open={open} onOpenChange={(e) => !e.open && onClose()}>
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="card">
            <Dialog.Header>
              <Dialog.Title>{title}</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body pb="6">{children}</Dialog.Body>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  )
}
