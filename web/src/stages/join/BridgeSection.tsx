import { Button, Flex, Text } from '@chakra-ui/react'
import { X } from 'lucide-react'
import type { ReactNode } from 'react'
import { limitsOf } from '../../shared/api/model'
import { idsOf } from '../../shared/design/letters'
import { type JoinOptions, joinOf, type Unit } from '../../shared/design/recipe'
import { useSelection } from '../../shared/design/selection'
import { editOnce, partNow, useDesign, usePart } from '../../shared/design/store'
import { showNumber } from '../../shared/design/units'
import { useEvaluations, usePartView, useUnit } from '../../shared/evaluation/store'
import { LengthField } from '../../shared/fields/LengthField'
import { LengthRow } from '../../shared/fields/LengthRow'
import { Row, Section } from '../../shared/fields/Panel'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { Segments } from '../../shared/fields/Segments'
import { Toggle } from '../../shared/fields/Toggle'
import { TypedField, within } from '../../shared/fields/TypedField'
import { changeBar, withBars } from './useBars'

/** Bridges by hand, ties for all that is loose, and a bar under the words. */
export function BridgeSection() {
  const { use, problem } = useSelection()
  const bridging = useSelection((s) => s.tool?.kind === 'bridge')
  const unit = useUnit()
  return (
    <Section title="Bridges">
      <Button
        size="sm"
        variant={bridging ? 'solid' : 'outline'}
        onClick={() => use(bridging ? null : { kind: 'bridge' })}
      >
        {bridging ? 'Drag from stroke to stroke' : 'Lay a bridge'}
      </Button>
      {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
      <Bars unit={unit} />
      <Ties unit={unit} />
      <UnderlineFields unit={unit} />
    </Section>
  )
}

function Bars({ unit }: { unit: Unit }) {
  const part = useSelection((s) => s.selection.part)
  const bars = useDesign((s) => s.recipe.bars)
  const bridges = useEvaluations((s) => s.evaluation?.bridges)
  const chosen = useSelection(({ selection: s }) => (s.kind === 'bar' ? s.bar : null))
  const { select, clear } = useSelection.getState()
  const own = bars
    .map((bar, number) => ({ bar, number }))
    .filter(({ bar }) => bar.start.part === part || bar.end.part === part)
  if (own.length === 0) return null
  return (
    <Flex as="ul" direction="column" gap="1" aria-label="Bridges laid">
      {own.map(({ bar, number }, place) => {
        const laid = bridges?.find((b) => b.number === number)
        const necks = laid?.necks_mm.map((mm) => `${showNumber(mm, unit, 2)} ${unit}`).join(' and ')
        return (
          <Flex as="li" key={number} listStyleType="none" direction="column" gap="1.5" data-bar>
            <Line
              text={`Bridge ${place + 1}: ${laid?.ends.length ? `necks ${necks}` : 'its letter is gone'}`}
              chosen={chosen === number}
              onChoose={() => (chosen === number ? clear() : select({ kind: 'bar', part, bar: number }))}
              dropLabel={`Remove bridge ${place + 1}`}
              onDrop={() => {
                clear()
                withBars(bars.filter((_, n) => n !== number))
              }}
            />
            {chosen === number && (
              <>
                <Row label="Width">
                  <LengthField
                    label="Width of the bridge"
                    mm={bar.width_mm}
                    unit={unit}
                    {...limitsOf('Bar', 'width_mm')}
                    stepMm={unit === 'in' ? 0.254 : 0.1}
                    onChange={(width_mm) => changeBar(number, { width_mm })}
                  />
                </Row>
                <Row label="Bend">
                  <TypedField
                    label="Bend of the bridge"
                    value={bar.bulge}
                    show={(value) => `${Number((value * 100).toFixed(1))} %`}
                    read={(text) => {
                      const value = Number(text.replace('%', '').replace(',', '.').replace('−', '-').trim())
                      return value >= -100 && value <= 100
                        ? { value: value / 100 }
                        : { wrong: 'Type -100 to 100 %.' }
                    }}
                    step={(value, steps) => within(value + steps * 0.05, -1, 1)}
                    onChange={(bulge) => changeBar(number, { bulge })}
                  />
                </Row>
                <Text fontSize="sm" color="softInk">
                  Drag its ends on the work to turn it.
                </Text>
              </>
            )}
          </Flex>
        )
      })}
    </Flex>
  )
}

function Ties({ unit }: { unit: Unit }) {
  const join = joinOf(usePart((part) => part.join))
  const part = usePart(({ id }) => id)
  const ties = usePartView()?.made?.ties ?? []
  const refused = join.refused ?? []

  function change(next: Partial<JoinOptions>) {
    editOnce({ join: { ...joinOf(partNow().join), ...next }, letter_ids: idsOf(partNow()) })
  }
  const end = (letter: number | undefined) => ({ part, letter: letter ?? null, contour: null })

  return (
    <>
      <Toggle checked={join.tie ?? false} onChange={(tie) => change({ tie, refused: [] })}>
        Tie what is loose
      </Toggle>
      {join.tie && (
        <Flex as="ul" direction="column" gap="1" aria-label="Ties">
          {ties.map((tie) => (
            <Flex as="li" key={tie.letters.join(' ')} listStyleType="none" direction="column" data-tie>
              <Line
                text={`${tie.texts.join(' – ')}: ${showNumber(tie.length_mm, unit)} ${unit} in the open`}
                dropLabel={`Refuse the tie ${tie.texts.join(' – ')}`}
                onDrop={() =>
                  change({ refused: [...refused, { one: end(tie.letters[0]), other: end(tie.letters[1]) }] })
                }
              />
            </Flex>
          ))}
          {ties.length === 0 && (
            <Text fontSize="sm" color="softInk">
              Nothing is loose.
            </Text>
          )}
          {refused.length > 0 && (
            <Button size="xs" variant="outline" alignSelf="start" onClick={() => change({ refused: [] })}>
              {`Bring back ${refused.length} refused`}
            </Button>
          )}
        </Flex>
      )}
    </>
  )
}

const NONE = 'none'

function UnderlineFields({ unit }: { unit: Unit }) {
  const line = usePart((part) => part.underline ?? null)
  const edit = useDesign((s) => s.edit)
  const step = unit === 'in' ? 0.254 : 0.1
  const fields = [
    { key: 'thick_mm', name: 'Thickness', min: 0.2, max: 200 },
    { key: 'over_mm', name: 'Over the baseline', min: -200, max: 200 },
    { key: 'beyond_mm', name: 'Beyond the ends', min: -500, max: 500 },
  ] as const
  return (
    <>
      <Text>Under the words</Text>
      <Segments
        label="Under the words"
        value={line?.style ?? NONE}
        options={[
          { value: NONE, label: 'Nothing' },
          { value: 'bar', label: 'Bar' },
          { value: 'swash', label: 'Swash' },
        ]}
        onChange={(style) => {
          const measures = line ?? { thick_mm: 3, over_mm: 1.5, beyond_mm: 2 }
          editOnce({ underline: style === NONE ? null : { ...measures, style } })
        }}
        fill
      />
      {line &&
        fields.map(({ key, name, min, max }) => (
          <LengthRow
            key={key}
            label={name}
            mm={line[key]}
            unit={unit}
            min={min}
            max={max}
            stepMm={step}
            onChange={(mm) => edit({ underline: { ...line, [key]: mm } })}
          />
        ))}
    </>
  )
}

interface LineProps {
  text: ReactNode
  chosen?: boolean
  onChoose?: () => void
  dropLabel: string
  onDrop: () => void
}

function Line({ text, chosen, onChoose, dropLabel, onDrop }: LineProps) {
  return (
    <Flex justify="space-between" align="center" gap="1">
      {onChoose ? (
        <Button
          variant="plain"
          height="auto"
          p="1"
          flex="1"
          justifyContent="start"
          textAlign="left"
          whiteSpace="normal"
          fontSize="sm"
          fontWeight={chosen ? '650' : '450'}
          aria-expanded={chosen ?? false}
          onClick={onChoose}
        >
          {text}
        </Button>
      ) : (
        <Text fontSize="sm" p="1">
          {text}
        </Text>
      )}
      <Button
        size="xs"
        variant="ghost"
        aria-label={dropLabel}
        title={dropLabel}
        minWidth="7"
        px="0"
        onClick={onDrop}
      >
        <X size={15} />
      </Button>
    </Flex>
  )
}
