import { Box, Center, Flex, Text } from '@chakra-ui/react'
import type { Troubles } from '../fields/Notes'
import { StageHelp } from '../workbench/StageHelp'
import { ViewControls } from '../workbench/ViewControls'
import { CutPanel } from './CutPanel'
import { JobStrip } from './JobStrip'
import { SheetsView, useFreshChoice } from './SheetsView'
import { useSheets } from './useSheets'

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
