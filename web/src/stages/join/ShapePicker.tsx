import { Button, chakra, Flex, SimpleGrid, Text } from '@chakra-ui/react'
import { useMutation } from '@tanstack/react-query'
import { useRef } from 'react'
import { answer, api, asProblem, type Schemas } from '../../shared/api/client'
import { upload } from '../../shared/api/upload'
import { LibraryShapePicture, useLibraryShapes } from '../../shared/fields/LibraryShapePicture'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { Segments } from '../../shared/fields/Segments'
import { Tile } from '../../shared/fields/Tile'

export type StandIn = Schemas['StandIn']

const Choice = chakra(Tile, {
  base: {
    p: '1.5',
    height: '46px',
  },
})

interface Props {
  label: string
  value: StandIn | null
  /** Whether the shape may also fill the letter's box. */
  fits?: boolean
  onChange: (value: StandIn | null) => void
}

/** A shape from the library, or of the maker's own, to stand in a letter's or a mark's place. */
export function ShapePicker({ label, value, fits, onChange }: Props) {
  const input = useRef<HTMLInputElement>(null)
  const forms = useLibraryShapes()
  const own = useMutation({
    mutationFn: (file: File) => answer(api.POST('/api/shapes/read', upload(file))),
    onSuccess: (shape) => onChange({ ...shape, to: value?.to ?? 'height' }),
  })
  const problem = own.error ? asProblem(own.error) : null
  return (
    <Flex direction="column" gap="1.5">
      <Text>{label}</Text>
      <SimpleGrid columns={5} gap="1.5" role="group" aria-label={label}>
        {forms?.map((form) => (
          <Choice
            key={form.name}
            type="button"
            aria-label={form.name}
            title={form.name}
            aria-pressed={value !== null && !value.d && value.shape === form.name}
            onClick={() => onChange({ shape: form.name, d: '', to: value?.to ?? 'height', layers: [] })}
          >
            <LibraryShapePicture shape={form} />
          </Choice>
        ))}
      </SimpleGrid>
      {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
      {value?.d && (
        <Text fontSize="sm">
          {`Your own shape: ${value.shape}${value.layers.length > 1 ? `, in ${value.layers.length} colours` : ''}`}
        </Text>
      )}
      {value && fits && (
        <Segments
          label="Fit of the shape"
          value={value.to ?? 'height'}
          options={[
            { value: 'height', label: 'Its height' },
            { value: 'box', label: 'Fills its place' },
          ]}
          onChange={(to) => onChange({ ...value, to })}
          size="xs"
          fill
        />
      )}
      <Flex gap="2" wrap="wrap">
        <input
          ref={input}
          type="file"
          aria-label={`${label}: a file of your own`}
          accept=".svg,image/svg+xml"
          hidden
          onChange={(e) => {
            const file = e.target.files?.[0]
            if (file) own.mutate(file)
            e.target.value = ''
          }}
        />
        <Button size="sm" variant="outline" loading={own.isPending} onClick={() => input.current?.click()}>
          Own shape…
        </Button>
        {value && (
          <Button size="sm" variant="outline" onClick={() => onChange(null)}>
            Back to the letter’s own
          </Button>
        )}
      </Flex>
    </Flex>
  )
}
