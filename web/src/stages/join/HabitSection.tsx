import { Button, Flex, Text } from '@chakra-ui/react'
import { asProblem } from '../../shared/api/client'
import { type Habit, habitAt, habitOf, withoutHabit, withSeamAsHabit } from '../../shared/design/habits'
import { editOnce, partNow, usePart } from '../../shared/design/store'
import { useFaces } from '../../shared/faces/useFaces'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { useKeepHabits } from './useHabits'

/** What is decided for one seam, made the way in which the shop always joins these two letters; and where that is
 * so, what can be done about it. */
export function HabitSection({ left }: { left: number }) {
  const acting = usePart((part) => habitAt(part, left))
  const offered = usePart((part) => habitOf(part, left))
  const face = usePart((part) => part.face.family)
  const name = useFaces().find(({ slug }) => slug === face)?.name ?? face
  const { keep, forget } = useKeepHabits()
  const problem = keep.error ?? forget.error

  function always(habit: Habit) {
    editOnce(withSeamAsHabit(partNow(), left, habit))
    keep.mutate(habit)
  }

  function drop(habit: Habit) {
    editOnce(withoutHabit(partNow(), habit))
  }

  const pair = ({ letters }: Habit) => Array.from(letters).join(' · ')
  return (
    <>
      {acting && (
        <Flex direction="column" gap="1.5" data-testid="habit">
          <Text fontSize="sm">
            {`${pair(acting)} is always joined so in ${name}, here and in new designs.`}
          </Text>
          <Flex gap="2" wrap="wrap">
            <Button size="sm" variant="outline" onClick={() => drop(acting)}>
              Not in these words
            </Button>
            <Button
              size="sm"
              variant="outline"
              onClick={() => {
                drop(acting)
                forget.mutate(acting)
              }}
            >
              No longer
            </Button>
          </Flex>
        </Flex>
      )}
      {offered && (
        <Button size="sm" variant="outline" alignSelf="start" onClick={() => always(offered)}>
          {`Always join ${pair(offered)} so`}
        </Button>
      )}
      {problem && <ProblemNote what={asProblem(problem).message} todo={asProblem(problem).todo} />}
    </>
  )
}
