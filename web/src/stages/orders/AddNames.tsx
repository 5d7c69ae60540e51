import { Box, Button, chakra, Flex, Text, Textarea } from '@chakra-ui/react'
import { useMutation } from '@tanstack/react-query'
import { FileSpreadsheet } from 'lucide-react'
import { useRef, useState } from 'react'
import { answer, api, type Schemas } from '../../shared/api/client'
import { upload } from '../../shared/api/upload'
import { counted } from '../../shared/design/counted'
import { Section } from '../../shared/fields/Panel'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { Columns } from './Columns'
import { rowsFrom } from './order'
import { problemOf, useOrderId, useRowChanges } from './useOrder'

type List = Schemas['ListOut']

/** Names pasted, typed or read from a file. A list of several columns is shown before it is taken. */
export function AddNames() {
  const id = useOrderId()
  const input = useRef<HTMLInputElement>(null)
  const [text, setText] = useState('')
  const [list, setList] = useState<List | null>(null)
  const rows = useRowChanges()
  const reading = useMutation({
    mutationFn: (from: File | string) =>
      typeof from === 'string' ? readPasted(id, from) : readFile(id, from),
    onSuccess: (read) => {
      const [column, ...others] = read.columns
      // Names one a line need no question.
      if (column && others.length === 0 && column.heading === '' && column.field !== '')
        take(read, [column.field])
      else setList(read)
    },
  })
  function take(read: List, fields: readonly string[]) {
    rows.add(rowsFrom(read.rows, fields), () => {
      setList(null)
      setText('')
    })
  }
  const lines = text.split('\n').filter((line) => line.trim() !== '').length
  const problem = problemOf(reading.error) ?? rows.problem
  return (
    <Section title="Add names">
      {list ? (
        <Columns
          list={list}
          busy={rows.busy}
          onTake={(fields) => take(list, fields)}
          onCancel={() => setList(null)}
        />
      ) : (
        <Box
          onDragOver={(e) => e.preventDefault()}
          onDrop={(e) => {
            const file = e.dataTransfer.files[0]
            if (!file) return
            e.preventDefault()
            reading.mutate(file)
          }}
        >
          <Textarea
            aria-label="Names, one on each line"
            placeholder={'One name on each line,\nor cells from a spreadsheet'}
            value={text}
            onChange={(e) => setText(e.target.value)}
            onKeyDown={(e) => {
              if (e.key !== 'Enter' || !(e.ctrlKey || e.metaKey) || lines === 0) return
              e.preventDefault()
              reading.mutate(text)
            }}
            rows={4}
            bg="card"
            borderColor="edge"
            spellCheck={false}
          />
          <Flex gap="2" mt="2">
            <Button
              size="sm"
              flex="1"
              bg="ink"
              color="card"
              disabled={lines === 0}
              loading={reading.isPending || rows.busy}
              onClick={() => reading.mutate(text)}
            >
              {lines === 0 ? 'Add them' : `Add ${counted(lines, 'name')}`}
            </Button>
            <Button size="sm" variant="outline" onClick={() => input.current?.click()}>
              <FileSpreadsheet size={16} /> CSV or XLSX
            </Button>
          </Flex>
          <chakra.input
            ref={input}
            type="file"
            accept=".csv,.tsv,.txt,.xlsx"
            aria-label="A list as a file"
            hidden
            onChange={(e) => {
              const file = e.target.files?.[0]
              e.target.value = ''
              if (file) reading.mutate(file)
            }}
          />
        </Box>
      )}
      {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
      {!list && !problem && (
        <Text fontSize="sm" color="softInk">
          Rows are numbered as they stand in the list; nothing of it is left out.
        </Text>
      )}
    </Section>
  )
}

const readPasted = (order: string, text: string): Promise<List> =>
  answer(api.POST('/api/orders/read-list', { body: { order, text } }))

const readFile = (order: string, file: File): Promise<List> =>
  answer(
    api.POST('/api/orders/{order_id}/read-file', { params: { path: { order_id: order } }, ...upload(file) }),
  )
