import { Button, Flex, Text } from '@chakra-ui/react'
import { useShallow } from 'zustand/react/shallow'
import { partName } from '../../shared/design/partNames'
import { useSelection } from '../../shared/design/selection'
import { useDesign } from '../../shared/design/store'
import { Panel, Section } from '../../shared/fields/Panel'
import { addLettering } from './actions'

/** A stage that acts on lettering, while something else is chosen. */
export function NoLettering({ name }: { name: string }) {
  const letterings = useDesign(useShallow((s) => s.recipe.parts.filter((p) => p.kind === 'lettering')))
  const { choosePart } = useSelection.getState()
  return (
    <Panel name={name}>
      <Section title={letterings.length > 0 ? 'Which words?' : 'No words yet'}>
        <Text color="softInk">This stage acts on words.</Text>
        <Flex direction="column" gap="1.5">
          {letterings.map((part) => (
            <Button key={part.id} size="sm" variant="outline" onClick={() => choosePart(part.id)}>
              {partName(part)}
            </Button>
          ))}
          <Button size="sm" variant="outline" onClick={addLettering}>
            Add lettering
          </Button>
        </Flex>
      </Section>
    </Panel>
  )
}
