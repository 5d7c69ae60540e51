import { Box, Button, Text } from '@chakra-ui/react'
import {
  AlignCenterHorizontal,
  AlignCenterVertical,
  AlignEndHorizontal,
  AlignEndVertical,
  AlignHorizontalDistributeCenter,
  AlignHorizontalSpaceBetween,
  AlignStartHorizontal,
  AlignStartVertical,
  AlignVerticalDistributeCenter,
  AlignVerticalSpaceBetween,
} from 'lucide-react'
import { type ComponentProps, type ReactNode, useState } from 'react'
import { findPart } from '../../shared/design/recipe'
import { useDesign } from '../../shared/design/store'
import { useUnit } from '../../shared/evaluation/store'
import { Expander } from '../../shared/fields/Expander'
import { IconTool } from '../../shared/fields/IconTool'
import { LengthRow } from '../../shared/fields/LengthRow'
import { Section } from '../../shared/fields/Panel'
import { align, arrangeOnce, bind } from './actions'
import type { AlignEdge } from './alignment'
import { spread, stacked } from './arrange'

const EDGES: readonly { edge: AlignEdge; name: string; mark: ReactNode }[] = [
  { edge: { across: 'left' }, name: 'Align left edges', mark: <AlignStartVertical size={17} /> },
  { edge: { across: 'centre' }, name: 'Centre one under the other', mark: <AlignCenterVertical size={17} /> },
  { edge: { across: 'right' }, name: 'Align right edges', mark: <AlignEndVertical size={17} /> },
  { edge: { down: 'top' }, name: 'Align top edges', mark: <AlignStartHorizontal size={17} /> },
  { edge: { down: 'middle' }, name: 'Centre side by side', mark: <AlignCenterHorizontal size={17} /> },
  { edge: { down: 'bottom' }, name: 'Align bottom edges', mark: <AlignEndHorizontal size={17} /> },
]

/** Several parts lined up with the ground among them, spread and stacked. */
export function Arrange({ ids, ground }: { ids: readonly string[]; ground: string }) {
  const unit = useUnit()
  const [gap, setGap] = useState(4)
  const [stagger, setStagger] = useState(0)
  const together = useDesign((s) => {
    const bound = ids.map((id) => findPart(s.recipe, id)?.group_id ?? '')
    return bound[0] !== '' && bound.every((word) => word === bound[0])
  })
  const few = ids.length < 3
  const spreadOut = (way: 'across' | 'down', even: 'middles' | 'gaps') =>
    arrangeOnce(ids, (boxes) => spread(boxes, way, even))
  return (
    <Section title="Arrange">
      <Box display="grid" gridTemplateColumns="repeat(6, 1fr)" gap="1" role="group" aria-label="Align">
        {EDGES.map(({ edge, name, mark }) => (
          <Mark key={name} name={name} onClick={() => align(ids, ground, edge)}>
            {mark}
          </Mark>
        ))}
      </Box>
      <Box display="grid" gridTemplateColumns="repeat(6, 1fr)" gap="1" role="group" aria-label="Spread">
        <Mark
          name="Spread across, middles evenly apart"
          disabled={few}
          onClick={() => spreadOut('across', 'middles')}
        >
          <AlignHorizontalDistributeCenter size={17} />
        </Mark>
        <Mark name="Even gaps across" disabled={few} onClick={() => spreadOut('across', 'gaps')}>
          <AlignHorizontalSpaceBetween size={17} />
        </Mark>
        <Mark
          name="Spread down, middles evenly apart"
          disabled={few}
          onClick={() => spreadOut('down', 'middles')}
        >
          <AlignVerticalDistributeCenter size={17} />
        </Mark>
        <Mark name="Even gaps down" disabled={few} onClick={() => spreadOut('down', 'gaps')}>
          <AlignVerticalSpaceBetween size={17} />
        </Mark>
      </Box>
      {few && (
        <Text fontSize="sm" color="softInk">
          Spreading takes three parts or more.
        </Text>
      )}
      <Expander label="Stack one under the other" open={false}>
        <LengthRow label="Gap" mm={gap} unit={unit} min={-500} max={500} stepMm={0.5} onChange={setGap} />
        <LengthRow
          label="Stagger"
          mm={stagger}
          unit={unit}
          min={-500}
          max={500}
          stepMm={1}
          onChange={setStagger}
        />
        <Button
          size="sm"
          variant="outline"
          onClick={() => arrangeOnce(ids, (boxes) => stacked(boxes, gap, stagger))}
        >
          Stack
        </Button>
      </Expander>
      <Button size="sm" variant="outline" onClick={() => bind(ids, !together)}>
        {together ? 'Move each by itself again' : 'Move them together'}
      </Button>
    </Section>
  )
}

function Mark(props: ComponentProps<typeof IconTool>) {
  return <IconTool size="sm" variant="outline" minWidth="0" {...props} />
}
