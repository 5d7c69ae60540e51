import { Text } from '@chakra-ui/react'
import {
  AlignCenterHorizontal,
  AlignCenterVertical,
  AlignEndHorizontal,
  AlignEndVertical,
  AlignStartHorizontal,
  AlignStartVertical,
  Minus,
} from 'lucide-react'
import { partName } from '../../shared/design/partNames'
import type { Part } from '../../shared/design/recipe'
import { useDesign } from '../../shared/design/store'
import { Choice } from '../../shared/fields/Choice'
import { Row } from '../../shared/fields/Panel'
import { Segments } from '../../shared/fields/Segments'
import { realign } from './actions'
import { type Across, type Alignment, canAlign, type Down, groundsFor } from './alignment'

const FREE = 'free'
const WORK = 'work'

const ACROSS = [
  { value: FREE, label: 'Free across', icon: <Minus size={15} /> },
  { value: 'left', label: 'Left edge', icon: <AlignStartVertical size={15} /> },
  { value: 'centre', label: 'Centre', icon: <AlignCenterVertical size={15} /> },
  { value: 'right', label: 'Right edge', icon: <AlignEndVertical size={15} /> },
] as const

const DOWN = [
  { value: FREE, label: 'Free down', icon: <Minus size={15} /> },
  { value: 'top', label: 'Top edge', icon: <AlignStartHorizontal size={15} /> },
  { value: 'middle', label: 'Middle', icon: <AlignCenterHorizontal size={15} /> },
  { value: 'bottom', label: 'Bottom edge', icon: <AlignEndHorizontal size={15} /> },
] as const

/** Which edge or middle of a part stays where it is when the part changes, and with which other part it goes. */
export function AlignFields({ part }: { part: Part }) {
  const recipe = useDesign((s) => s.recipe)
  if (!canAlign(recipe, part)) return null
  const { alignment } = part
  const grounds = groundsFor(recipe, part.id)
  const choose = (value: string) => {
    if (value === FREE) return realign(part.id, null)
    const to = value === WORK ? null : value
    const before: Alignment = alignment ?? { to, across: 'centre', down: to === null ? null : 'middle' }
    realign(part.id, { ...before, to }, { across: true, down: true })
  }
  return (
    <>
      <Row label="Aligned to">
        <Choice
          label="Aligned to"
          value={alignment ? (alignment.to ?? WORK) : FREE}
          options={[
            { value: FREE, label: 'nothing' },
            { value: WORK, label: 'its own place' },
            ...grounds.map((ground) => ({ value: ground.id, label: partName(ground) })),
          ]}
          onChange={choose}
        />
      </Row>
      {alignment && (
        <>
          <Segments
            label="Aligned across"
            size="xs"
            value={alignment.across ?? FREE}
            options={ACROSS}
            onChange={(across) =>
              realign(
                part.id,
                { ...alignment, across: across === FREE ? null : (across as Across) },
                { across: true, down: false },
              )
            }
            fill
          />
          <Segments
            label="Aligned down"
            size="xs"
            value={alignment.down ?? FREE}
            options={DOWN}
            onChange={(down) =>
              realign(
                part.id,
                { ...alignment, down: down === FREE ? null : (down as Down) },
                { across: false, down: true },
              )
            }
            fill
          />
          <Text fontSize="sm" color="softInk">
            {alignmentWords(
              alignment,
              alignment.to ? partName(grounds.find((g) => g.id === alignment.to)) : '',
            )}
          </Text>
        </>
      )}
    </>
  )
}

/** An alignment in a maker's words. */
export function alignmentWords({ across, down }: Alignment, to: string): string {
  const held = [across && AT_ACROSS[across], down && AT_DOWN[down]].filter(Boolean).join(' and ')
  return to ? `Its ${held} goes with “${to}”, whatever changes.` : `Its ${held} stays, whatever changes.`
}

const AT_ACROSS: Record<Across, string> = { left: 'left edge', centre: 'centre', right: 'right edge' }
const AT_DOWN: Record<Down, string> = { top: 'top edge', middle: 'middle', bottom: 'bottom edge' }
