import { Box, Button, Flex, Input, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { counted } from '../../shared/design/counted'
import { type Sheets, type Stock, stockOf, withStock } from '../../shared/design/cutPlan'
import { keptMaterials } from '../../shared/design/materials'
import { editRecipeOnce, useDesign } from '../../shared/design/store'
import { showNumber } from '../../shared/design/units'
import { useMaterials } from '../../shared/design/useMaterials'
import { useUnit } from '../../shared/evaluation/store'
import { Choice } from '../../shared/fields/Choice'
import { LengthRow } from '../../shared/fields/LengthRow'
import { Row } from '../../shared/fields/Panel'
import { Segments } from '../../shared/fields/Segments'
import { chooseSheet } from './store'
import { editPlan } from './useSheets'

const STOCK = [
  { value: 'sheet', label: 'Sheet' },
  { value: 'roll', label: 'Roll' },
] as const

interface Props {
  film: string
  name: string
  sheets: Sheets | undefined
  /** The other films, on whose sheets this one may be cut. */
  others: readonly { film: string; name: string }[]
}

/** A film as a roll: what it is, how many sheets of it are cut, and how much of them is used. */
export function FilmCard({ film, name, sheets, others }: Props) {
  const [open, setOpen] = useState(false)
  const unit = useUnit()
  const plan = useDesign((s) => s.recipe.cut)
  const usual = useDesign((s) => s.recipe.material.name)
  const stock = stockOf(plan, film)
  const own = sheets?.sheets.filter((sheet) => sheet.film === film) ?? []
  const area = own.reduce((sum, sheet) => sum + sheet.width_mm * sheet.height_mm, 0)
  const used = own.reduce((sum, sheet) => sum + sheet.used * sheet.width_mm * sheet.height_mm, 0)
  const host = others.find((other) => other.film === stock.substitute_film)
  const count = counted(own.length, 'sheet')
  const size = `${showNumber(stock.width_mm, unit)} × ${showNumber(stock.height_mm, unit)} ${unit}`
  return (
    <Box borderWidth="1px" borderColor={open ? 'ink' : 'rule'} borderRadius="md" data-film-card={film}>
      <Button
        variant="plain"
        width="full"
        height="auto"
        px="3"
        py="2.5"
        gap="3"
        justifyContent="start"
        textAlign="left"
        aria-expanded={open}
        onClick={() => {
          setOpen(!open)
          const first = sheets?.sheets.findIndex((sheet) => sheet.film === film) ?? -1
          if (first >= 0) chooseSheet(first)
        }}
      >
        <Roll film={film} roll={stock.roll} />
        <Box flex="1" minWidth="0">
          <Text fontWeight="650" truncate>
            {name}
          </Text>
          <Text fontSize="sm" fontWeight="450" color="softInk" whiteSpace="normal">
            {host ? `cut with ${host.name.toLowerCase()}` : `${count}, ${stock.roll ? 'roll' : size}`}
          </Text>
        </Box>
        {area > 0 && (
          <Text fontWeight="650" textAlign="right" lineHeight="1.2" data-used>
            {percent(used / area)}
            <br />
            <Text as="span" fontSize="sm" fontWeight="450" color="softInk">
              used
            </Text>
          </Text>
        )}
      </Button>
      {open && (
        <Flex direction="column" gap="2.5" px="3" pb="3">
          <Fields film={film} name={name} stock={stock} usual={usual} others={others} />
        </Flex>
      )}
    </Box>
  )
}

/** A share in hundredths: something is never said to be nothing. */
const percent = (share: number) => (share > 0 && share < 0.01 ? 'under 1 %' : `${Math.round(share * 100)} %`)

function Fields({
  film,
  name,
  stock,
  usual,
  others,
}: {
  film: string
  name: string
  stock: Stock
  usual: string
  others: Props['others']
}) {
  const unit = useUnit()
  const known = useMaterials().data ?? []
  const mirror = useDesign((s) => s.recipe.mirror)
  const change = (changes: Partial<Stock>) =>
    editPlan(withStock(useDesign.getState().recipe.cut, film, changes))
  const madeOf = (name: string) => {
    const { recipe } = useDesign.getState()
    const cut = withStock(recipe.cut, film, { material: name || null })
    editRecipeOnce({
      cut,
      materials: name ? keptMaterials({ ...recipe, cut }, known, name) : recipe.materials,
    })
  }
  const sides = [
    { key: 'width_mm', label: 'Width' },
    { key: 'height_mm', label: stock.roll ? 'Longest' : 'Height' },
    { key: 'margin_mm', label: 'Margin' },
  ] as const
  return (
    <>
      <Row label="Called">
        <Input
          aria-label="What the film is called"
          size="sm"
          bg="card"
          borderColor="edge"
          maxLength={40}
          placeholder={name}
          defaultValue={stock.name}
          key={stock.name}
          onBlur={(e) => e.target.value !== stock.name && change({ name: e.target.value })}
        />
      </Row>
      <Row label="Material">
        <Choice
          label={`Material of ${name}`}
          value={stock.material ?? ''}
          options={[
            { value: '', label: `${usual}, as the design` },
            ...known.map(({ material: m }) => ({ value: m.name, label: m.name })),
          ]}
          onChange={madeOf}
        />
      </Row>
      <Row label="Mirrored">
        <Choice
          label={`Whether ${name} is mirrored`}
          value={stock.mirror == null ? '' : stock.mirror ? 'yes' : 'no'}
          options={[
            { value: '', label: mirror ? 'yes, as the design' : 'no, as the design' },
            { value: 'yes', label: 'yes, cut from its back' },
            { value: 'no', label: 'no, as it reads' },
          ]}
          onChange={(next) => change({ mirror: next === '' ? null : next === 'yes' })}
        />
      </Row>
      <Segments
        label="Sheet or roll"
        value={stock.roll ? 'roll' : 'sheet'}
        options={STOCK}
        onChange={(value) =>
          change({ roll: value === 'roll', ...(value === 'roll' ? { height_mm: 2000 } : {}) })
        }
        fill
      />
      {sides.map(({ key, label }) => (
        <LengthRow
          key={key}
          label={label}
          mm={stock[key]}
          unit={unit}
          min={0}
          max={key === 'margin_mm' ? 1000 : 20_000}
          stepMm={unit === 'in' ? 6.35 : 5}
          onChange={(mm) => change({ [key]: mm })}
        />
      ))}
      {others.length > 0 && (
        <Row label="Cut with">
          <Choice
            label={`On whose sheets ${name} is cut`}
            value={stock.substitute_film ?? ''}
            options={[
              { value: '', label: 'its own sheets' },
              ...others.map((other) => ({ value: other.film, label: other.name })),
            ]}
            onChange={(onto) => change({ substitute_film: onto || null })}
          />
        </Row>
      )}
    </>
  )
}

/** A roll of film seen from the side, or a sheet with a lifted corner. */
function Roll({ film, roll }: { film: string; roll: boolean }) {
  return (
    <svg viewBox="0 0 38 30" aria-hidden="true" style={{ width: 38, height: 30, flexShrink: 0 }}>
      {roll ? (
        <>
          <path d="M2 6h26a6 9 0 0 1 0 18H2z" fill={film} />
          <ellipse
            cx="28"
            cy="15"
            rx="6"
            ry="9"
            fill={film}
            stroke="var(--chakra-colors-card)"
            strokeWidth="1.4"
          />
          <ellipse cx="28" cy="15" rx="2.2" ry="3.6" fill="var(--chakra-colors-card)" />
        </>
      ) : (
        <>
          <path d="M3 3h32v17l-9 8H3z" fill={film} />
          <path d="M35 20l-9 8v-8z" fill="var(--chakra-colors-card)" stroke={film} strokeWidth="1" />
        </>
      )}
    </svg>
  )
}
