import { Box, Button, Text } from '@chakra-ui/react'
import { memo, useEffect, useState } from 'react'
import { limitsOf } from '../../shared/api/model'
import type { Sheets } from '../../shared/design/cutPlan'
import { useDesign } from '../../shared/design/store'
import { useEvaluation, useUnit } from '../../shared/evaluation/store'
import { LengthRow } from '../../shared/fields/LengthRow'
import { Panel, Section } from '../../shared/fields/Panel'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { Segments } from '../../shared/fields/Segments'
import { Toggle } from '../../shared/fields/Toggle'
import { Notes, type Troubles } from '../../shared/notes/Notes'
import { showGate } from '../../shared/ready/gate'
import { Arrangement } from './Arrangement'
import { Checklist } from './Checklist'
import { ChosenCopy } from './ChosenCopy'
import { CutterSection } from './CutterSection'
import { Files } from './Files'
import { FilmCard } from './FilmCard'
import { Jobs } from './Jobs'
import { MachineSection } from './MachineSection'
import { Pattern } from './Pattern'
import { PressNotes } from './PressSection'
import { useCutting, useJobs } from './useJobs'
import { editPlan, type SheetsView, useSheet } from './useSheets'

const BOXES = [
  { value: 'none', label: 'No boxes' },
  { value: 'each', label: 'Around each' },
  { value: 'sheet', label: 'Around all' },
] as const

/** The Cut stage: films, sheets, what is to be known before the cut, the machine, and the files. */
export const CutPanel = memo(function CutPanel({ view, ...troubles }: Troubles & { view: SheetsView }) {
  const { sheets, problem, waiting } = view
  return (
    <Panel name="Cut">
      <Box overflowY="auto" flex="1" minHeight="0">
        <Notes {...troubles} />
        {problem && (
          <Box p="3">
            <ProblemNote what={problem.message} todo={problem.todo} />
          </Box>
        )}
        {sheets && <ChosenCopy sheets={sheets} />}
        <Films sheets={sheets} />
        {sheets && (
          <Section title="Before the knife goes down">
            <Checklist points={sheets.checklist} />
            <CutButton sheets={sheets} waiting={waiting} />
            <CutterSection />
          </Section>
        )}
        <Section title="On the sheets">
          <Arrangement />
        </Section>
        <Weeding />
        <Section title="Machine">
          <MachineSection />
        </Section>
        {sheets && (
          <Section title="Files">
            <Files sheets={sheets} />
          </Section>
        )}
        <Section title="Pattern on paper">
          <Pattern />
        </Section>
        {sheets && <Pressing sheets={sheets} />}
        <Jobs />
      </Box>
    </Panel>
  )
})

/** Every film that something is cut from: also those that are cut with others. */
function Films({ sheets }: { sheets: Sheets | undefined }) {
  const stocks = useDesign((s) => s.recipe.cut.stocks)
  const drawn = useEvaluation()?.films
  // Before anything fits on a sheet, the films are those of the work.
  const colours = sheets?.motifs.map((motif) => motif.film) ?? drawn?.map((film) => film.colour) ?? []
  const films = [...new Set(colours)].map((film) => {
    const called = stocks.find((s) => s.film.toUpperCase() === film.toUpperCase())?.name
    const own = sheets?.sheets.find((sheet) => sheet.film === film)?.film_name
    return { film, name: own ?? (called || 'Film') }
  })
  return (
    <Section title={films.length > 1 ? 'Films' : 'Film'}>
      {films.length === 0 && <Text color="softInk">Nothing to cut yet.</Text>}
      {films.map(({ film, name }) => (
        <FilmCard
          key={film}
          film={film}
          name={name}
          sheets={sheets}
          others={films.filter((other) => other.film !== film)}
        />
      ))}
    </Section>
  )
}

/** Cuts the sheet that is looked at. What stands in the way is told beside it. */
function CutButton({ sheets, waiting }: { sheets: Sheets; waiting: boolean }) {
  const { sheet, index } = useSheet(sheets)
  const { ask, busy, problem } = useCutting()
  // What was mended at the gate is cut as soon as its sheet is there.
  const [through, setThrough] = useState(false)
  useEffect(() => {
    if (!through || waiting || !sheet) return
    setThrough(false)
    ask({ sheet, index, anyway: true })
  }, [through, waiting, sheet, index, ask])
  const stop = sheets.checklist.find(({ state }) => state === 'blocks')
  const atWork = useJobs().find((job) => job.state === 'cutting')
  const why = atWork ? 'The cutter is busy with a sheet.' : stop ? 'First see to what blocks the cut.' : ''
  if (!sheet) return null
  const number = sheet.of > 1 ? `, sheet ${sheet.number}` : ''
  return (
    <>
      <Button
        bg={why ? 'edge' : 'knife'}
        color="card"
        _hover={{ bg: why ? 'edge' : 'knifeDeep' }}
        fontWeight="650"
        aria-disabled={why !== ''}
        loading={busy}
        onClick={() =>
          why === '' &&
          ask(
            { sheet, index },
            {
              onError: (error) =>
                showGate(error, {
                  to: 'sheets',
                  label: 'Cut it',
                  allTheSame: 'Cut all the same',
                  go: () => setThrough(true),
                }),
            },
          )
        }
      >
        Cut {sheet.film_name.toLowerCase()}
        {number}
      </Button>
      {why && (
        <Text fontSize="sm" color="softInk">
          {why}
        </Text>
      )}
      {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
    </>
  )
}

function Weeding() {
  const plan = useDesign((s) => s.recipe.cut)
  const unit = useUnit()
  return (
    <Section title="Weeding and marks">
      <Segments
        label="Boxes around what is cut"
        value={plan.boxes}
        options={BOXES}
        onChange={(boxes) => editPlan({ boxes })}
        fill
      />
      <Toggle checked={plan.waste_lines} onChange={(waste_lines) => editPlan({ waste_lines })}>
        Cut large waste into strips
      </Toggle>
      {(plan.boxes !== 'none' || plan.waste_lines) && (
        <LengthRow
          label="Clearance"
          mm={plan.clearance_mm}
          unit={unit}
          {...limitsOf('CutPlan', 'clearance_mm')}
          stepMm={unit === 'in' ? 0.79375 : 0.5}
          onChange={(clearance_mm) => editPlan({ clearance_mm })}
        />
      )}
      <Toggle
        checked={plan.marks}
        onChange={(marks) => editPlan({ marks, laid: [], ...(marks ? { together: true } : {}) })}
      >
        Marks by which films meet
      </Toggle>
    </Section>
  )
}

function Pressing({ sheets }: { sheets: Sheets }) {
  const materials = [...new Set(sheets.sheets.map((sheet) => sheet.material))]
  return materials.map((material) => (
    <Section key={material} title={`Notes on ${material.toLowerCase()}`}>
      <PressNotes material={material} />
    </Section>
  ))
}
