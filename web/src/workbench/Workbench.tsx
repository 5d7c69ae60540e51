import { Box, Button, Center, Flex, Spinner, Text } from '@chakra-ui/react'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useDeferredValue, useEffect, useMemo, useState } from 'react'
import { Link, useParams } from 'react-router'
import { answer, api, asProblem, type Problem } from '../api/client'
import { CheckPanel } from '../check/CheckPanel'
import { FindingMarkers, RemedyPreview } from '../check/FindingMarkers'
import { useFindings } from '../check/findings'
import { TouchOverlay } from '../check/TouchOverlay'
import { useTouch } from '../check/TouchUpSection'
import { openDesign, startAutosave } from '../design/autosave'
import type { Evaluation, Measured } from '../design/recipe'
import { useDesign, usePart } from '../design/store'
import { BarOverlay, TieMarks } from '../join/BarOverlay'
import { JoinPanel } from '../join/JoinPanel'
import { useJoin } from '../join/joinState'
import { Edges, LetterGhosts, SeamMarkers } from '../join/SeamOverlay'
import { SeamStrip } from '../join/SeamStrip'
import { ShapeOverlay } from '../join/ShapeOverlay'
import { ShapePanel } from '../join/ShapePanel'
import { useTools } from '../join/tools'
import { LetterPanel } from '../letter/LetterPanel'
import { Brand } from '../parts/Brand'
import { ProblemNote } from '../parts/ProblemNote'
import { useKeys } from './keys'
import { Readout } from './Readout'
import { StageRail } from './StageRail'
import { TopBar } from './TopBar'
import { useEvaluation } from './useEvaluation'
import { ViewControls } from './ViewControls'
import { useView } from './view'
import { Work } from './Work'

/** Opens the design named in the address, then shows the bench. */
export function Workbench() {
  const { id = '' } = useParams()
  const queries = useQueryClient()
  const opened = useDesign((s) => s.id)
  const design = useQuery({
    queryKey: ['design', id],
    queryFn: () => answer(api.GET('/api/designs/{design_id}', { params: { path: { design_id: id } } })),
    gcTime: 0,
    staleTime: 0,
  })

  useEffect(() => {
    if (!design.data) return
    openDesign(design.data)
    useJoin.getState().clear()
    useJoin.getState().remember(null)
    useTools.getState().shape(null)
    useTools.getState().bridge(false)
    useTouch.getState().use(null)
    useView.getState().keepFitted()
    document.title = `${design.data.name} – Fulgen`
  }, [design.data])

  useEffect(() => {
    const stop = startAutosave()
    return () => {
      stop()
      useDesign.setState({ id: '' })
      queries.removeQueries({ queryKey: ['design'] })
    }
  }, [queries])

  const problem = design.error ?? design.failureReason
  if (problem && !design.data) return <NotOpened problem={asProblem(problem)} />
  if (opened !== id)
    return (
      <Center height="full" gap="3" color="softInk">
        <Spinner /> <Text>Opening the design…</Text>
      </Center>
    )
  return <Bench />
}

function NotOpened({ problem }: { problem: Problem }) {
  return (
    <Flex direction="column" p="6" gap="6" maxWidth="560px">
      <Brand />
      <ProblemNote
        what={problem.message}
        todo={problem.away ? 'It is opened as soon as the server is back.' : problem.todo}
      >
        <Button asChild size="sm" variant="outline" mt="3">
          <Link to="/">To the shelf</Link>
        </Button>
      </ProblemNote>
    </Flex>
  )
}

function Bench() {
  const stage = useView((s) => s.stage)
  const joining = stage === 'join'
  const shaping = useTools((s) => (joining ? s.shaping : null))
  const recipe = useDesign((s) => s.recipe)
  const byCapitals = usePart((part) => part.size.measure === 'capitals')
  const blank = usePart((part) => part.text.trim() === '')
  const { evaluation: newest, measured: newestMeasured, problem } = useEvaluation(recipe)
  // Without a word there is nothing to show, not even what was there before.
  const evaluation = problem?.kind === 'no-letters' ? undefined : newest
  const measured = problem?.kind === 'no-letters' ? undefined : newestMeasured
  // The work is drawn first, then the panel and the strip.
  const later = useDeferredValue(measured)
  const findings = useFindings(recipe, evaluation !== undefined && problem === null)
  const over = useMemo(() => {
    if (!evaluation) return null
    if (stage === 'join') return joinOverlay(evaluation, measured, shaping)
    if (stage === 'check')
      return {
        inMm: <RemedyPreview findings={findings} evaluation={evaluation} />,
        inPx: (
          <>
            <FindingMarkers findings={findings} />
            <TouchOverlay />
          </>
        ),
      }
    return null
  }, [stage, shaping, evaluation, measured, findings])
  useKeys(joining && shaping === null ? evaluation : undefined)
  const [fileProblem, setFileProblem] = useState<Problem | null>(null)
  // biome-ignore lint/correctness/useExhaustiveDependencies: a change of the recipe answers an earlier complaint
  useEffect(() => setFileProblem(null), [recipe])
  return (
    <Flex direction="column" height="full">
      <TopBar
        ready={evaluation !== undefined && problem === null}
        problem={problem}
        onProblem={setFileProblem}
      />
      <Flex flex="1" minHeight="0">
        <StageRail />
        {stage === 'letter' && <LetterPanel problem={problem} fileProblem={fileProblem} />}
        {joining && shaping === null && (
          <JoinPanel evaluation={later} unit={recipe.unit} problem={problem} fileProblem={fileProblem} />
        )}
        {shaping !== null && (
          <ShapePanel
            id={shaping}
            evaluation={later}
            unit={recipe.unit}
            problem={problem}
            fileProblem={fileProblem}
          />
        )}
        {stage === 'check' && (
          <CheckPanel
            evaluation={later}
            findings={findings}
            unit={recipe.unit}
            problem={problem}
            fileProblem={fileProblem}
          />
        )}
        <Flex direction="column" flex="1" minWidth="0">
          <Box position="relative" flex="1" minHeight="0">
            <Work
              evaluation={evaluation}
              unit={recipe.unit}
              stale={problem !== null}
              showCapitals={byCapitals && stage === 'letter'}
              over={over}
            />
            <ViewControls />
            {recipe.mirror && <MirrorTag />}
            {!evaluation && <FirstWord empty={blank} />}
          </Box>
          <Readout
            evaluation={evaluation}
            measured={measured}
            unit={recipe.unit}
            stale={problem !== null}
            findings={findings}
          />
          {joining && shaping === null && <SeamStrip evaluation={later} unit={recipe.unit} />}
        </Flex>
      </Flex>
    </Flex>
  )
}

function joinOverlay(evaluation: Evaluation, measured: Measured | undefined, shaping: number | null) {
  if (shaping !== null)
    return { inMm: <Edges evaluation={evaluation} />, inPx: <ShapeOverlay id={shaping} /> }
  return {
    inMm: (
      <>
        <LetterGhosts evaluation={evaluation} measured={measured} />
        <TieMarks evaluation={evaluation} />
      </>
    ),
    inPx: (
      <>
        {measured && <SeamMarkers evaluation={measured} />}
        <BarOverlay evaluation={evaluation} />
      </>
    ),
  }
}

function MirrorTag() {
  return (
    <Text
      position="absolute"
      bottom="3"
      left="10"
      bg="ink"
      color="card"
      px="2.5"
      py="1"
      borderRadius="sm"
      fontSize="sm"
    >
      Mirrored: shown as the knife cuts it, from the back
    </Text>
  )
}

function FirstWord({ empty }: { empty: boolean }) {
  return (
    <Center position="absolute" inset="0" pointerEvents="none">
      <Text fontSize="xl" color="softInk">
        {empty ? 'Type a word on the left. Its outline appears here.' : ''}
      </Text>
    </Center>
  )
}
