import { Button } from '@chakra-ui/react'
import type { Unit } from '../design/recipe'
import { thickenUntil } from '../design/thicken'
import { showLength } from '../design/units'

/** One action that makes a part's thinnest stroke as wide as it has to be. */
export function ThickenTo({ part, mm, unit }: { part: string; mm: number; unit: Unit }) {
  return (
    <Button size="sm" variant="outline" alignSelf="start" onClick={() => void thickenUntil(part, mm)}>
      Thicken the lettering to {showLength(mm, unit)}
    </Button>
  )
}
