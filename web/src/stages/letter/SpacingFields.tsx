import { Text } from '@chakra-ui/react'
import { AlignCenter, AlignLeft, AlignRight } from 'lucide-react'
import type { Lettering, Unit } from '../../shared/design/recipe'
import { editOnce, useDesign, usePart } from '../../shared/design/store'
import { parseLength, showLength } from '../../shared/design/units'
import { Row } from '../../shared/fields/Panel'
import { Segments } from '../../shared/fields/Segments'
import { NOT_A_LENGTH, TypedField, within } from '../../shared/fields/TypedField'

const ALIGN = [
  { value: 'left', label: 'Lines start together', icon: <AlignLeft size={16} /> },
  { value: 'centre', label: 'Lines centred', icon: <AlignCenter size={16} /> },
  { value: 'right', label: 'Lines end together', icon: <AlignRight size={16} /> },
] as const

const SPACING_MM = { min: -100, max: 300 }
const SPACING_SHARE = { min: -0.5, max: 2 }
const LINE_SPACING = { min: 0.3, max: 5 }

/** Between letters, between lines, and how lines stand together. */
export function SpacingFields() {
  const part = usePart(({ spacing_mm, spacing_share, line_spacing, align }) => ({
    spacing_mm,
    spacing_share,
    line_spacing,
    align,
  }))
  const severalLines = usePart(({ text }) => text.includes('\n'))
  const unit = useDesign((s) => s.recipe.unit)
  const edit = useDesign((s) => s.edit)
  return (
    <>
      <Row label="Between letters">
        <LetterSpacing part={part} unit={unit} onChange={edit} />
      </Row>
      {severalLines && (
        <>
          <Row label="Between lines">
            <TypedField
              label="Between lines, in % of the size"
              value={part.line_spacing}
              show={showPercent}
              read={(text) => readShare(text, LINE_SPACING)}
              step={(value, steps) => within(value + steps * 0.05, LINE_SPACING.min, LINE_SPACING.max)}
              onChange={(line_spacing) => edit({ line_spacing })}
            />
          </Row>
          <Row label="Lines">
            <Segments<Lettering['align']>
              label="Lines"
              value={part.align}
              options={ALIGN}
              onChange={(align) => {
                editOnce({ align })
              }}
              fill
            />
          </Row>
        </>
      )}
    </>
  )
}

type Spacing = Pick<Lettering, 'spacing_mm' | 'spacing_share'>

interface LetterSpacingProps {
  part: Spacing
  unit: Unit
  onChange: (spacing: Spacing) => void
}

/** A length, or a share of the size: whichever the maker types. */
function LetterSpacing({ part, unit, onChange }: LetterSpacingProps) {
  return (
    <>
      <TypedField<Spacing>
        label="Between letters, a length or % of the size"
        value={part}
        show={({ spacing_mm, spacing_share }) =>
          spacing_share === 0
            ? showLength(spacing_mm, unit)
            : spacing_mm === 0
              ? showPercent(spacing_share)
              : `${showPercent(spacing_share)} + ${showLength(spacing_mm, unit)}`
        }
        read={(text) => readSpacing(text, unit)}
        step={({ spacing_mm, spacing_share }, steps) =>
          spacing_share !== 0
            ? {
                spacing_mm,
                spacing_share: within(spacing_share + steps * 0.005, SPACING_SHARE.min, SPACING_SHARE.max),
              }
            : {
                spacing_mm: within(
                  spacing_mm + steps * (unit === 'in' ? 0.254 : 0.1),
                  SPACING_MM.min,
                  SPACING_MM.max,
                ),
                spacing_share,
              }
        }
        onChange={({ spacing_mm, spacing_share }) => onChange({ spacing_mm, spacing_share })}
      />
      <Text fontSize="xs" color="softInk" textAlign="right" mt="1">
        or % of the size
      </Text>
    </>
  )
}

function readSpacing(text: string, unit: Unit): { value: Spacing } | { wrong: string } {
  if (text.includes('%')) {
    const share = readShare(text, SPACING_SHARE)
    return 'wrong' in share ? share : { value: { spacing_mm: 0, spacing_share: share.value } }
  }
  const mm = parseLength(text, unit)
  if (mm === null) return { wrong: `“${text.trim()}” ${NOT_A_LENGTH}` }
  if (mm < SPACING_MM.min || mm > SPACING_MM.max)
    return { wrong: `It can be ${showLength(SPACING_MM.min, unit)} to ${showLength(SPACING_MM.max, unit)}.` }
  return { value: { spacing_mm: mm, spacing_share: 0 } }
}

const showPercent = (share: number) => `${Number((share * 100).toFixed(2))} %`

function readShare(
  text: string,
  { min, max }: { min: number; max: number },
): { value: number } | { wrong: string } {
  const match = /^([-−+]?)(\d{1,5}(?:[.,]\d{1,5})?|[.,]\d{1,5})\s*%?$/.exec(text.trim())
  const size = Number(match?.[2]?.replace(',', '.') ?? Number.NaN) / 100
  const value = match?.[1] === '-' || match?.[1] === '−' ? -size : size
  return value >= min && value <= max
    ? { value }
    : { wrong: `Type ${showPercent(min)} to ${showPercent(max)}.` }
}
