import { Box } from '@chakra-ui/react'
import { limitsOf } from '../../shared/api/model'
import type { Warp } from '../../shared/design/recipe'
import { asOneStep, editOnce, useDesign, usePart } from '../../shared/design/store'
import { Segments } from '../../shared/fields/Segments'
import { Slide } from '../../shared/fields/Slide'

const BENDS = [
  { value: 'none', label: 'No bend' },
  { value: 'arch', label: 'Arch' },
  { value: 'wave', label: 'Wave' },
  { value: 'bulge', label: 'Bulge' },
] as const

/** The bend of the word as a whole. */
export function BendFields() {
  const warp = usePart((part) => part.warp) ?? null
  const change = (more: Partial<Warp>) =>
    useDesign.getState().edit({ warp: { kind: 'arch', amount: 0.2, waves: 1, ...warp, ...more } })
  return (
    <Box display="grid" gap="2.5">
      <Segments
        label="Bend of the whole word"
        size="xs"
        value={warp?.kind ?? 'none'}
        options={BENDS}
        onChange={(kind) => {
          if (kind === 'none') editOnce({ warp: null })
          else asOneStep(() => change({ kind }))
        }}
        fill
      />
      {warp && (
        <Slide
          name="How much"
          {...limitsOf('Warp', 'amount')}
          step={0.01}
          value={warp.amount}
          onChange={(amount) => change({ amount })}
        />
      )}
      {warp?.kind === 'wave' && (
        <Slide
          name="Waves"
          min={0.5}
          max={6}
          step={0.5}
          value={warp.waves}
          onChange={(waves) => change({ waves })}
        />
      )}
    </Box>
  )
}
