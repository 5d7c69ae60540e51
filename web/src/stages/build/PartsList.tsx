import { Box, chakra, Flex, Text } from '@chakra-ui/react'
import { Eye, EyeOff, Frame as FrameMark, Lock, LockOpen } from 'lucide-react'
import { type ComponentProps, memo } from 'react'
import { OPERATION_WORDS, partName } from '../../shared/design/partNames'
import type { Holder, Part, Recipe } from '../../shared/design/recipe'
import { partsOf, useChosenParts, useSelection } from '../../shared/design/selection'
import { editOnce, useDesign } from '../../shared/design/store'
import { showLength } from '../../shared/design/units'
import { useEvaluations, useUnit } from '../../shared/evaluation/store'
import { IconTool } from '../../shared/fields/IconTool'
import { Tile } from '../../shared/fields/Tile'
import { viewOf } from './levels'
import { OperationMark } from './OperationMark'
import { PartPicture } from './PartPicture'
import { onLevel } from './parts'
import { useBuild } from './store'

const Card = chakra(Tile, {
  base: {
    flex: '1',
    minWidth: '0',
    display: 'flex',
    alignItems: 'center',
    gap: '2.5',
    p: '1.5',
    textAlign: 'left',
    '&[data-hidden=true]': { opacity: 0.45 },
  },
})

/** All parts, those over others first; members of a combination are held together by a bracket. */
export const PartsList = memo(function PartsList() {
  const recipe = useDesign((s) => s.recipe)
  return (
    <Flex
      direction="column"
      gap="1.5"
      role="list"
      aria-label="Parts"
      maxHeight="partsList"
      overflowY="auto"
      // The ring around what is chosen is not cut off.
      p="1px"
      mx="-1px"
    >
      {[...onLevel(recipe, null)].reverse().map((part) => (
        <Row key={part.id} part={part} recipe={recipe} level={null} />
      ))}
    </Flex>
  )
})

function Row({ part, recipe, level }: { part: Part; recipe: Recipe; level: string | null }) {
  if (part.kind !== 'combination' && part.kind !== 'frame') return <PartCard part={part} level={level} />
  return (
    <Flex direction="column" gap="1.5" role="listitem">
      <PartCard part={part} level={level} />
      <Flex position="relative" pl="30px" direction="column" gap="1.5">
        <Bracket part={part} />
        {onLevel(recipe, part.id).map((member) => (
          <Row key={member.id} part={member} recipe={recipe} level={part.id} />
        ))}
      </Flex>
    </Flex>
  )
}

/** What holds members together, with what is done to them. */
function Bracket({ part }: { part: Holder }) {
  return (
    <Box
      position="absolute"
      left="12px"
      top="6px"
      bottom="6px"
      width="12px"
      borderLeftWidth="2px"
      borderTopWidth="2px"
      borderBottomWidth="2px"
      borderColor="softInk"
      borderLeftRadius="sm"
    >
      <Box
        position="absolute"
        left="-13px"
        top="calc(50% - 12px)"
        width="24px"
        height="24px"
        borderRadius="full"
        bg="card"
        borderWidth="1.5px"
        borderColor="softInk"
        p="3px"
        title={part.kind === 'frame' ? 'Fitted into the frame' : OPERATION_WORDS[part.how]}
      >
        {part.kind === 'frame' ? <FrameMark size={15} /> : <OperationMark how={part.how} />}
      </Box>
    </Box>
  )
}

const PartCard = memo(function PartCard({ part, level }: { part: Part; level: string | null }) {
  const chosen = useChosenParts().includes(part.id)
  const view = useEvaluations((s) => viewOf(s.evaluation, part.id))
  const trouble = useEvaluations((s) => s.troubles.find((t) => t.part === part.id))
  const unit = useUnit()
  const name = partName(part)
  const detail = trouble
    ? trouble.problem.message
    : view?.box
      ? `${showLength(view.box.width, unit, 1)} × ${showLength(view.box.height, unit, 1)}`
      : ' '

  function choose(more: boolean) {
    const { open, level: now } = useBuild.getState()
    const { chooseParts } = useSelection.getState()
    if (now !== level) open(level)
    if (!more || now !== level) return chooseParts([part.id])
    const others = partsOf(useSelection.getState().selection).filter((id) => id !== part.id)
    chooseParts(chosen ? others : [...others, part.id])
  }

  return (
    <Flex
      role={part.kind === 'combination' || part.kind === 'frame' ? undefined : 'listitem'}
      gap="1"
      align="center"
    >
      <Card
        type="button"
        aria-pressed={chosen}
        aria-label={trouble ? `${name}: ${trouble.problem.message}` : name}
        data-part={part.id}
        data-hidden={part.hidden}
        onClick={(e) => choose(e.shiftKey || e.ctrlKey || e.metaKey)}
      >
        <Box width="52px" height="36px" flexShrink="0">
          <PartPicture part={view} />
        </Box>
        <Box minWidth="0" flex="1">
          <Text fontWeight="600" truncate>
            {name}
          </Text>
          <Text fontSize="xs" color={trouble ? 'knifeDeep' : 'softInk'} truncate>
            {detail}
          </Text>
        </Box>
        <Box width="14px" height="14px" borderRadius="full" flexShrink="0" bg={part.film} />
      </Card>
      <Flex direction="column">
        <Small
          name={part.hidden ? `Show ${name}` : `Hide ${name}`}
          onClick={() => {
            editOnce({ hidden: !part.hidden }, part.id)
          }}
        >
          {part.hidden ? <EyeOff size={13} /> : <Eye size={13} />}
        </Small>
        <Small
          name={part.locked ? `Unlock ${name}` : `Lock ${name}`}
          onClick={() => {
            editOnce({ locked: !part.locked }, part.id)
          }}
        >
          {part.locked ? <Lock size={13} /> : <LockOpen size={13} />}
        </Small>
      </Flex>
    </Flex>
  )
})

function Small(props: ComponentProps<typeof IconTool>) {
  return <IconTool size="2xs" variant="plain" color="softInk" minWidth="6" height="6" {...props} />
}
