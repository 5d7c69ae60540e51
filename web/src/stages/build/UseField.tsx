import { Text } from '@chakra-ui/react'
import type { Part, Use } from '../../shared/design/recipe'
import { editOnce } from '../../shared/design/store'
import { USE_WORDS } from '../../shared/design/uses'
import { Segments } from '../../shared/fields/Segments'

const TOLD: Record<Use, string> = {
  cut: '',
  engrave: 'A beam fills it, line by line. It is not cut.',
  score: 'Its lines are pressed in for a fold. It is not cut.',
  draw: 'A pen draws its lines. It is not cut.',
  guide: 'You see it here. It is in no file, and never cut.',
}

/** What a part is for: cut, or something else. */
export function UseField({ part }: { part: Part }) {
  const use = part.use ?? 'cut'
  return (
    <>
      <Segments
        label="What it is for"
        size="xs"
        value={use}
        options={USE_WORDS}
        onChange={(next) => {
          editOnce({ use: next }, part.id)
        }}
        fill
      />
      {TOLD[use] && (
        <Text fontSize="sm" color="softInk">
          {TOLD[use]}
        </Text>
      )}
    </>
  )
}
