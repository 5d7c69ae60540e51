import { Box, Center, Flex, Spinner, Text } from '@chakra-ui/react'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { type ComponentProps, memo, useEffect } from 'react'
import { useLocation, useParams } from 'react-router'
import { answer, api, asProblem } from '../../shared/api/client'
import { openDesign, startAutosave } from '../../shared/design/autosave'
import { isBlank } from '../../shared/design/recipe'
import { useOpenShape } from '../../shared/design/selection'
import { useChosenPart, useDesign } from '../../shared/design/store'
import { startEvaluating } from '../../shared/evaluation/driver'
import { useEvaluations } from '../../shared/evaluation/store'
import { NotOpened } from '../../shared/notes/NotOpened'
import { type Stage, useView } from '../../shared/view/view'
import { chooseLettering } from '../../stages/build/actions'
import { BuildOverlay, LetteringBox } from '../../stages/build/BuildOverlay'
import { BuildPanel } from '../../stages/build/BuildPanel'
import { NoLettering } from '../../stages/build/NoLettering'
import { useBuild } from '../../stages/build/store'
import { CheckPanel } from '../../stages/check/CheckPanel'
import { FindingMarkers, RemedyPreview } from '../../stages/check/FindingMarkers'
import { TouchOverlay } from '../../stages/check/TouchOverlay'
import { BarOverlay, TieMarks } from '../../stages/join/BarOverlay'
import { EndsOverlay } from '../../stages/join/EndsOverlay'
import { FlowOverlay } from '../../stages/join/FlowOverlay'
import { JoinPanel } from '../../stages/join/JoinPanel'
import { LetterGapGraph } from '../../stages/join/LetterGapGraph'
import { Edges, LetterGhosts, LetterHolds, SeamMarkers, WayPreview } from '../../stages/join/SeamOverlay'
import { SeamStrip } from '../../stages/join/SeamStrip'
import { ShapeOverlay } from '../../stages/join/ShapeOverlay'
import { ShapePanel } from '../../stages/join/ShapePanel'
import { useHearShop } from '../../stages/join/useHabits'
import { HeldFaces } from '../../stages/letter/HeldFaces'
import { LetterPanel } from '../../stages/letter/LetterPanel'
import { CutStage } from './CutStage'
import { useDroppedFiles } from './dropped'
import { Finder } from './Finder'
import { Gate } from './Gate'
import { useKeys } from './keys'
import { Readout } from './Readout'
import { StageHelp } from './StageHelp'
import { StageRail } from './StageRail'
import { useSavingFile } from './saving'
import { TopBar } from './TopBar'
import { showVersions, useVersions, Versions } from './Versions'
import { ViewControls } from './ViewControls'
import { Work } from './Work'
import { WorkingNote } from './WorkingNote'

/** Opens the design named in the address, then shows the bench. */
export function Workbench() {
  const { id = '' } = useParams()
  const location = useLocation()
  const queries = useQueryClient()
  const opened = useDesign((s) => s.id)
  const heard = useHearShop()
  const design = useQuery({
    queryKey: ['design', id],
    queryFn: () => answer(api.GET('/api/designs/{design_id}', { params: { path: { design_id: id } } })),
    gcTime: 0,
    staleTime: 0,
  })

  useEffect(() => {
    if (!design.data) return
    void openDesign(design.data)
    useView.getState().keepFitted()
    // There is nothing to join or to build before there are words.
    if (!design.data.recipe.parts.every(isBlank)) return
    const inFrame = location.state?.start === 'frame'
    useView.getState().setStage(inFrame ? 'build' : 'letter')
    if (inFrame) useBuild.getState().pick('frames')
  }, [design.data, location.state])

  useEffect(() => {
    const stops = [startAutosave(), startEvaluating()]
    return () => {
      for (const stop of stops) stop()
      showVersions(false)
      useDesign.setState({ id: '' })
      queries.removeQueries({ queryKey: ['design'] })
    }
  }, [queries])

  const problem = design.error ?? design.failureReason
  if (problem && !design.data) return <NotOpened problem={asProblem(problem)} to="/" label="To the shelf" />
  if (opened !== id || !heard)
    return (
      <Center height="full" gap="3" color="softInk">
        <Spinner /> <Text>Opening the design…</Text>
      </Center>
    )
  return <Bench order={design.data?.order ?? null} />
}

/** `order`: that of which the design is a row. */
function Bench({ order }: { order: string | null }) {
  const stage = useView((s) => s.stage)
  const shaping = useOpenShape() !== null && stage === 'join'
  const lettering = useChosenPart()?.kind === 'lettering'
  const mirror = useDesign((s) => s.recipe.mirror)
  const versions = useVersions((s) => s.open)
  useEffect(() => useView.getState().turnOver(mirror), [mirror])
  useKeys()
  useDroppedFiles()
  const fileProblem = useSavingFile((s) => s.problem)
  // A change of the recipe answers an earlier complaint.
  useEffect(
    () =>
      useDesign.subscribe(
        (now, before) => now.recipe !== before.recipe && useSavingFile.setState({ problem: null }),
      ),
    [],
  )
  useEffect(() => {
    if (stage === 'letter' || stage === 'join') chooseLettering()
  }, [stage])
  return (
    <Flex direction="column" height="full">
      <TopBar order={order} />
      <Finder />
      <Gate />
      <Flex flex="1" minHeight="0">
        <StageRail />
        {stage === 'letter' &&
          (lettering ? <LetterPanel fileProblem={fileProblem} /> : <NoLettering name="Letter" />)}
        {stage === 'join' &&
          !shaping &&
          (lettering ? <JoinPanel fileProblem={fileProblem} /> : <NoLettering name="Join" />)}
        {shaping && <ShapePanel fileProblem={fileProblem} />}
        {stage === 'build' && <BuildPanel fileProblem={fileProblem} />}
        {stage === 'check' && <CheckPanel fileProblem={fileProblem} />}
        {stage === 'cut' ? (
          <CutStage fileProblem={fileProblem} />
        ) : (
          <Flex direction="column" flex="1" minWidth="0">
            <Box position="relative" flex="1" minHeight="0">
              <Work {...OVERLAYS[shaping ? 'shape' : stage]} />
              <ViewControls />
              <WorkingNote />
              {mirror && <MirrorTag />}
              <FirstWord />
            </Box>
            {stage === 'letter' && lettering && <HeldFaces />}
            <StageHelp />
            <Readout />
            {((stage === 'join' && !shaping && lettering) || stage === 'build') && <SeamStrip />}
          </Flex>
        )}
        {versions && stage !== 'cut' && <Versions />}
      </Flex>
    </Flex>
  )
}

/** What stages lay over the work, made once: each of it looks for itself at what it needs. */
const OVERLAYS: Record<Exclude<Stage, 'cut'> | 'shape', ComponentProps<typeof Work>> = {
  letter: { inMm: <LetterHolds />, inPx: <LetteringBox /> },
  join: {
    inMm: (
      <>
        <LetterGhosts />
        <TieMarks />
        <WayPreview />
      </>
    ),
    inPx: (
      <>
        <SeamMarkers />
        <LetterGapGraph />
        <BarOverlay />
        <FlowOverlay />
        <EndsOverlay />
      </>
    ),
  },
  shape: { inMm: <Edges />, inPx: <ShapeOverlay /> },
  build: { inPx: <BuildOverlay /> },
  check: {
    inMm: <RemedyPreview />,
    inPx: (
      <>
        <FindingMarkers />
        <TouchOverlay />
      </>
    ),
  },
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

const FirstWord = memo(function FirstWord() {
  const nothing = useEvaluations((s) => s.evaluation === undefined)
  const blank = useDesign((s) => s.recipe.parts.every(isBlank))
  if (!nothing) return null
  return (
    <Center position="absolute" inset="0" pointerEvents="none">
      <Text fontSize="xl" color="softInk">
        {blank ? 'Type a word on the left. Its outline appears here.' : ''}
      </Text>
    </Center>
  )
})
