import { Box, Button, Flex, Text } from '@chakra-ui/react'
import type { Sheets } from '../../shared/design/cutPlan'
import { editRecipeOnce, useDesign } from '../../shared/design/store'
import { FindingMark } from '../../shared/fields/FindingMark'
import { StopActions } from '../../shared/ready/StopActions'
import { editPlan } from './useSheets'

type Point = Sheets['checklist'][number]

/** What blocks the cut, what is to be decided, and what is only to be known. */
export function Checklist({ points }: { points: readonly Point[] }) {
  return (
    <Flex as="ul" direction="column" gap="2" aria-label="Before the knife goes down" listStyleType="none">
      {points.map((point) => (
        <Flex as="li" key={point.what} gap="2.5" data-point={point.about} data-state={point.state}>
          <Box pt="0.5" flexShrink="0">
            <FindingMark
              blocks={point.state === 'blocks' || point.state === 'ask'}
              look={point.state === 'know'}
            />
          </Box>
          <Box>
            <Text fontWeight={point.state === 'good' ? '450' : '600'}>{point.what}</Text>
            {point.todo && (
              <Text fontSize="sm" color="softInk">
                {point.todo}
              </Text>
            )}
            {point.state === 'ask' && point.about === 'mirror' && <AboutMirror />}
            {point.state === 'ask' && <StopActions about={point.about} />}
            {(point.about === 'overlap' || point.about === 'outside') && (
              <Button size="xs" variant="outline" mt="1.5" onClick={() => editPlan({ laid: [] })}>
                Arrange anew
              </Button>
            )}
          </Box>
        </Flex>
      ))}
    </Flex>
  )
}

/** The mirror and the material do not go together: the maker says which is meant. */
function AboutMirror() {
  const mirror = useDesign((s) => s.recipe.mirror)
  const cut = useDesign((s) => s.recipe.cut)
  return (
    <Flex gap="2" mt="1.5">
      <Button
        size="xs"
        bg="ink"
        color="card"
        onClick={() => {
          // What was laid by hand or closely was laid for the other side.
          editRecipeOnce({ mirror: !mirror, cut: { ...cut, laid: [], closely: false } })
        }}
      >
        {mirror ? 'Turn the mirror off' : 'Mirror it'}
      </Button>
      <Button size="xs" variant="outline" onClick={() => editPlan({ mirror_accepted: true })}>
        I know
      </Button>
    </Flex>
  )
}
