import { Box, Flex } from '@chakra-ui/react'
import { Star } from 'lucide-react'
import type { ShapePart } from '../../../shared/design/recipe'
import { LibraryShapePicture, useLibraryShapes } from '../../../shared/fields/LibraryShapePicture'
import { Section } from '../../../shared/fields/Panel'
import { Slide } from '../../../shared/fields/Slide'
import { useBuild } from '../store'
import { change } from './change'
import type { PartKind } from './kind'

function ShapeFields({ part }: { part: ShapePart }) {
  const form = useLibraryShapes()?.find((f) => f.name === part.form)
  if (!form || form.parameters.length === 0) return null
  return (
    <Section title="Shape">
      <Flex gap="3" align="flex-start">
        <Box width="56px" height="56px" flexShrink="0">
          <LibraryShapePicture shape={form} />
        </Box>
        <Flex direction="column" gap="3" flex="1">
          {form.parameters.map(({ key, label, kind, low, high, default: usual }) => (
            <Slide
              key={key}
              name={label}
              min={low}
              max={high}
              step={kind === 'share' ? 0.01 : 1}
              value={part.values?.[key] ?? usual}
              onChange={(value) => change({ values: { ...part.values, [key]: value } })}
            />
          ))}
        </Flex>
      </Flex>
    </Section>
  )
}

export const SHAPE: PartKind<ShapePart> = {
  Fields: ShapeFields,
  add: { label: 'Shape', Icon: Star, run: () => useBuild.getState().pick('shapes') },
}
