import { Button, Text } from '@chakra-ui/react'
import { Flower2 } from 'lucide-react'
import type { Ornament } from '../../../shared/design/recipe'
import { Section } from '../../../shared/fields/Panel'
import { useBuild } from '../store'
import type { PartKind } from './kind'

function OrnamentFields({ part }: { part: Ornament }) {
  const { pick } = useBuild.getState()
  return (
    <Section title="Ornament">
      <Text fontSize="sm" color="softInk">{`One glyph of ${part.face?.family ?? 'a face'}.`}</Text>
      <Button size="sm" variant="outline" onClick={() => pick('ornaments')}>
        Another ornament…
      </Button>
    </Section>
  )
}

export const ORNAMENT: PartKind<Ornament> = {
  Fields: OrnamentFields,
  add: { label: 'Ornament', Icon: Flower2, run: () => useBuild.getState().pick('ornaments') },
}
