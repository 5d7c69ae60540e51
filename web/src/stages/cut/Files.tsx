import { Button, Flex, Text } from '@chakra-ui/react'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Download, FileText } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, asProblem, type Schemas } from '../../shared/api/client'
import { download, fileName, saveAs } from '../../shared/api/download'
import { whenKept } from '../../shared/api/keeping'
import { useFileKinds } from '../../shared/api/useFileKinds'
import type { Sheets } from '../../shared/design/cutPlan'
import { useDesign } from '../../shared/design/store'
import { showLength } from '../../shared/design/units'
import { useUnit } from '../../shared/evaluation/store'
import { Choice } from '../../shared/fields/Choice'
import { LengthRow } from '../../shared/fields/LengthRow'
import { Row } from '../../shared/fields/Panel'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { showGate } from '../../shared/ready/gate'
import { useSheet } from './useSheets'

type Kind = NonNullable<Schemas['FileIn']['kind']>
/** A line that machines which follow lines take for one. */
const HAIRLINE_MM = 0.25

type Which = 'sheet' | 'film' | 'all'

/** Saves the design itself as a file. */
function saveRecipe(words: string) {
  const { name, recipe } = useDesign.getState()
  const called = fileName(name || words, 'design')
  saveAs(`${called}.json`, new Blob([JSON.stringify(recipe, null, 1)], { type: 'application/json' }))
}

/** Files for machines, by sheet, by film or all as one; and the ticket that goes with the job. */
export function Files({ sheets }: { sheets: Sheets }) {
  const id = useDesign((s) => s.id)
  const queries = useQueryClient()
  const kinds = useFileKinds().written
  const unit = useUnit()
  const { sheet, index } = useSheet(sheets)
  const [which, setWhich] = useState<Which>('sheet')
  const [tolerance, setTolerance] = useState(0.02)
  const [chosenLine, setLine] = useState<number | null>(null)
  const hairline = chosenLine ?? sheets.machine.hairline_mm ?? 0
  const saving = useMutation({
    mutationFn: async ({ kind, anyway }: { kind: Kind | null; anyway: boolean }) => {
      await whenKept(queries)
      const { name, recipe } = useDesign.getState()
      const body = {
        anyway,
        name,
        recipe,
        kind,
        tolerance_mm: tolerance,
        hairline_mm: hairline,
        sheet: which === 'sheet' ? index : null,
        film: which === 'film' ? (sheet?.film ?? null) : null,
      }
      await download(api.POST('/api/cut/file', { body, parseAs: 'blob' }))
    },
    onError: (error, { kind }) => {
      const go = () => saving.mutate({ kind, anyway: true })
      showGate(error, { to: 'sheets', label: 'Save the file', allTheSame: 'Save all the same', go })
    },
  })
  const ticket = useMutation({
    mutationFn: async () => {
      await whenKept(queries)
      const { name, recipe } = useDesign.getState()
      await download(api.POST('/api/cut/ticket', { body: { name, recipe }, parseAs: 'blob' }))
    },
  })
  const error = saving.error ?? ticket.error
  const problem = error ? asProblem(error) : null
  const film = sheet?.film_name.toLowerCase() ?? 'film'
  return (
    <>
      <Choice
        label="Files of"
        value={which}
        options={[
          { value: 'sheet', label: `This ${film} sheet` },
          { value: 'film', label: `All ${film} sheets` },
          { value: 'all', label: 'All sheets' },
        ]}
        onChange={setWhich}
      />
      <Flex gap="1.5" wrap="wrap">
        {kinds.map(({ key: value, name: label }) => (
          <Button
            key={value}
            size="xs"
            variant="outline"
            aria-label={`Save the sheet as ${label}`}
            loading={saving.isPending && saving.variables.kind === value}
            onClick={() => saving.mutate({ kind: value, anyway: false })}
          >
            {label}
          </Button>
        ))}
        <Button
          size="xs"
          variant="outline"
          loading={saving.isPending && saving.variables.kind === null}
          onClick={() => saving.mutate({ kind: null, anyway: false })}
          title="What the machine reads, and the ticket, as one ZIP"
        >
          <Download size={14} /> All as ZIP
        </Button>
      </Flex>
      <Row label="Cuts drawn as">
        <Choice
          label="Cuts drawn as"
          value={String(hairline)}
          options={[
            { value: '0', label: 'areas' },
            ...[...new Set([0.01, HAIRLINE_MM, hairline])]
              .filter((mm) => mm > 0)
              .map((mm) => ({ value: String(mm), label: `${showLength(mm, 'mm', 2)} lines` })),
          ]}
          onChange={(mm) => setLine(Number(mm))}
        />
      </Row>
      <LengthRow
        label="Straight pieces true to"
        mm={tolerance}
        unit={unit}
        min={0.001}
        max={1}
        stepMm={0.01}
        onChange={setTolerance}
      />
      <Text fontSize="sm" color="softInk">
        Each file is read back, and its sheet cut on a model of the machine, before you get it.
      </Text>
      <Button
        size="sm"
        variant="outline"
        onClick={() => saveRecipe(sheets.words)}
        title="The design itself, to be opened again on any shelf; SVG and PDF files carry it, too"
      >
        The recipe as a file
      </Button>
      <Flex gap="2">
        <Button asChild size="sm" variant="outline" flex="1">
          <Link to={`/design/${id}/ticket`}>
            <FileText size={15} /> Ticket
          </Link>
        </Button>
        <Button
          size="sm"
          variant="outline"
          flex="1"
          loading={ticket.isPending}
          onClick={() => ticket.mutate()}
        >
          Ticket as PDF
        </Button>
      </Flex>
      {problem && problem.kind !== 'at-gate' && <ProblemNote what={problem.message} todo={problem.todo} />}
    </>
  )
}
