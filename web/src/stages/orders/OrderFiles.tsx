import { Button, Flex, Text } from '@chakra-ui/react'
import { useMutation } from '@tanstack/react-query'
import { Download } from 'lucide-react'
import { api, type Schemas } from '../../shared/api/client'
import { download } from '../../shared/api/download'
import { useFileKinds } from '../../shared/api/useFileKinds'
import { Section } from '../../shared/fields/Panel'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import type { Sheets } from './order'
import { useOrderView } from './store'
import { problemOf, useOrderId } from './useOrder'

type Wanted = NonNullable<Schemas['OrderFilesIn']['kind']> | 'all' | 'pictures'

/** The files of all sheets, or of the one that is looked at. */
export function OrderFiles({ sheets }: { sheets: Sheets | undefined }) {
  const order = useOrderId()
  const kinds = useFileKinds().written
  const chosen = useOrderView((s) => s.sheet)
  const index = sheets?.sheets.findIndex(({ number }) => number === chosen) ?? -1
  const sheet = index < 0 ? null : index
  const saving = useMutation({
    mutationFn: (wanted: Wanted) =>
      wanted === 'pictures'
        ? download(api.POST('/api/orders/pictures', { body: { order }, parseAs: 'blob' }))
        : download(
            api.POST('/api/orders/files', {
              body: { order, kind: wanted === 'all' ? null : wanted, sheet },
              parseAs: 'blob',
            }),
          ),
  })
  const problem = problemOf(saving.error)
  const none = !sheets || sheets.sheets.length === 0
  const is = (wanted: Wanted) => saving.isPending && saving.variables === wanted
  return (
    <Section title={sheet === null ? 'Files of all sheets' : `Files of sheet ${chosen}`}>
      <Button
        size="sm"
        variant="outline"
        disabled={none}
        loading={is('all')}
        onClick={() => saving.mutate('all')}
      >
        <Download size={16} /> {sheet === null ? 'All as ZIP' : 'What the machine reads'}
      </Button>
      <Flex gap="1.5" wrap="wrap">
        {kinds.map(({ key, name }) => (
          <Button
            key={key}
            size="xs"
            variant="outline"
            disabled={none}
            aria-label={`Save the sheets as ${name}`}
            loading={is(key)}
            onClick={() => saving.mutate(key)}
          >
            {name}
          </Button>
        ))}
        <Button
          size="xs"
          variant="outline"
          loading={is('pictures')}
          onClick={() => saving.mutate('pictures')}
          title="One picture of each row, as PNG"
        >
          Pictures of the rows
        </Button>
      </Flex>
      <Text fontSize="sm" color="softInk">
        {saving.isPending
          ? 'Each sheet is cut on a model of the machine first. Large ones take a while.'
          : 'Each file is read back, and its sheet cut on a model of the machine, before you get it.'}
      </Text>
      {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
    </Section>
  )
}
