import { Button, Flex } from '@chakra-ui/react'
import { PenLine } from 'lucide-react'
import type { Lettering } from '../../../shared/design/recipe'
import { useIsShown } from '../../../shared/evaluation/store'
import { Section } from '../../../shared/fields/Panel'
import { useView } from '../../../shared/view/view'
import { addLettering, splitLines, typeWordsOf } from '../actions'
import { useBuild } from '../store'
import type { PartKind } from './kind'

function ToLetter({ part }: { part: Lettering }) {
  const { setStage } = useView.getState()
  const { pick } = useBuild.getState()
  const shown = useIsShown(part.id)
  return (
    <Section title="Words">
      <Button size="sm" variant="outline" onClick={() => pick('frames')}>
        Put it in a frame…
      </Button>
      <Flex gap="2">
        <Button size="sm" variant="outline" onClick={() => typeWordsOf(part.id)}>
          Words and face…
        </Button>
        <Button size="sm" variant="outline" onClick={() => setStage('join')}>
          Join its letters…
        </Button>
      </Flex>
      {part.text.trim().includes('\n') && !part.course && (
        <Button size="sm" variant="outline" disabled={!shown} onClick={() => splitLines(part.id)}>
          Make each line a part of its own
        </Button>
      )}
    </Section>
  )
}

export const LETTERING: PartKind<Lettering> = {
  Fields: ToLetter,
  add: { label: 'Lettering', Icon: PenLine, run: addLettering },
}
