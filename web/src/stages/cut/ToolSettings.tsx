import { Grid, Text } from '@chakra-ui/react'
import type { Machine } from '../../shared/design/cutPlan'
import type { Use } from '../../shared/design/recipe'
import { useDesign } from '../../shared/design/store'
import { USE_WORDS } from '../../shared/design/uses'
import { TypedField, within } from '../../shared/fields/TypedField'

type Setting = Machine['settings'][number]

interface MachineProps {
  machine: Machine
  /** The uses that it does. */
  does: readonly Use[]
  onKeep: (machine: Machine) => void
}

/** How hard and how fast a machine does each use, in the materials of this design. */
export function ToolSettings(props: MachineProps) {
  const usual = useDesign((s) => s.recipe.material.name)
  const stocks = useDesign((s) => s.recipe.cut.stocks)
  const materials = [...new Set([usual, ...stocks.map((s) => s.material).filter((m) => m != null)])]
  return (
    <>
      {materials.map((material) => (
        <OfMaterial key={material} material={material} {...props} />
      ))}
      <Text fontSize="sm" color="softInk">
        They go into PLT files and jobs. What is empty is as the machine itself has it.
      </Text>
    </>
  )
}

function OfMaterial({ material, machine, does, onKeep }: MachineProps & { material: string }) {
  const words = USE_WORDS.filter(({ value }) => does.includes(value))
  const of = (use: Use): Setting =>
    machine.settings.find((s) => s.material === material && s.use === use) ?? {
      material,
      use,
      force_g: null,
      speed_mm_s: null,
    }
  const keep = (next: Setting) => {
    const rest = machine.settings.filter((s) => s.material !== material || s.use !== next.use)
    const says = next.force_g !== null || next.speed_mm_s !== null
    onKeep({ ...machine, settings: says ? [...rest, next] : rest })
  }
  return (
    <>
      <Text fontWeight="600">{material}</Text>
      {words.map(({ value: use, label }) => {
        const now = of(use)
        return (
          <Grid key={use} templateColumns="1fr 92px 108px" gap="1.5" alignItems="center">
            <Text>{label}</Text>
            <Figure
              label={`Force, ${label.toLowerCase()}, ${material}`}
              unit="g"
              most={5000}
              value={now.force_g ?? null}
              onChange={(force_g) => keep({ ...now, force_g })}
            />
            <Figure
              label={`Speed, ${label.toLowerCase()}, ${material}`}
              unit="mm/s"
              most={2000}
              value={now.speed_mm_s ?? null}
              onChange={(speed_mm_s) => keep({ ...now, speed_mm_s })}
            />
          </Grid>
        )
      })}
    </>
  )
}

interface FigureProps {
  label: string
  unit: string
  most: number
  value: number | null
  onChange: (value: number | null) => void
}

/** A figure that may be left to the machine. */
function Figure({ label, unit, most, value, onChange }: FigureProps) {
  return (
    <TypedField<number | null>
      label={label}
      value={value}
      show={(n) => (n === null ? `— ${unit}` : `${n} ${unit}`)}
      read={(text) => {
        if (/^[\s—-]*(g|mm\/s)?$/.test(text)) return { value: null }
        const n = Number.parseFloat(text.replace(',', '.'))
        return n >= 1 && n <= most ? { value: n } : { wrong: `It can be 1 to ${most} ${unit}, or nothing.` }
      }}
      step={(n, steps) => within((n ?? 0) + steps * 5, 1, most)}
      onChange={onChange}
    />
  )
}
