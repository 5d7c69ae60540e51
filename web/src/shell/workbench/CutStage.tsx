import { Box, Center, Flex, Text } from '@chakra-ui/react'
import type { Troubles } from '../../shared/notes/Notes'
import { CutPanel } from '../../stages/cut/CutPanel'
import { JobStrip } from '../../stages/cut/JobStrip'
import { SheetsView, useFreshChoice } from '../../stages/cut/SheetsView'
import { useSheets } from '../../stages/cut/useSheets'
import { StageHelp } from './StageHelp'
import { ViewControls } from './ViewControls'

/** The Cut stage: the panel, the sheets, and the film under the knife. */
export function CutStage(troubles: Troubles) {
  const view = useSheets()
  useFreshChoice()
  return (
    <>
      <CutPanel view={view} {...troubles} />
      <Flex direction="column" flex="1" minWidth="0">
        <Box position="relative" flex="1" minHeight="0">
          <SheetsView sheets={view.sheets} stale={view.problem !== null} />
          <ViewControls />
          {!view.sheets && (
            <Center position="absolute" inset="0" pointerEvents="none">
              <Text fontSize="xl" color="softInk">
                {view.problem
                  ? 'Nothing lies on a sheet yet. The left says why.'
                  : view.waiting
                    ? 'Laying out the sheets…'
                    : 'Nothing to cut yet.'}
              </Text>
            </Center>
          )}
        </Box>
        <StageHelp />
        <JobStrip sheets={view.sheets} />
      </Flex>
    </>
  )
}
