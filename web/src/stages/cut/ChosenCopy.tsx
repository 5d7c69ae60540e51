import { Button, Flex, Text } from '@chakra-ui/react'
import { RotateCw } from 'lucide-react'
import { copyKey, laidAsShown, type Move, motifOf, type Sheets } from '../../shared/design/cutPlan'
import { useUnit } from '../../shared/evaluation/store'
import { Choice } from '../../shared/fields/Choice'
import { LengthRow } from '../../shared/fields/LengthRow'
import { Row, Section } from '../../shared/fields/Panel'
import { chooseCopy, chooseSheet, useCut } from './store'
import { editPlan } from './useSheets'

/** Where the chosen copy lies: its place, turn and sheet. */
export function ChosenCopy({ sheets }: { sheets: Sheets }) {
  const chosen = useCut((s) => s.chosen)
  const unit = useUnit()
  const sheet = sheets.sheets.find((s) => s.laid.some((laid) => copyKey(laid) === chosen))
  const laid = sheet?.laid.find((one) => copyKey(one) === chosen)
  const motif = laid && motifOf(sheets, laid)
  if (!chosen || !sheet || !laid || !motif) return null
  const move = (to: Move) => editPlan({ laid: laidAsShown(sheets, chosen, to) })
  const films = [...new Map(sheets.sheets.map((s) => [s.film, s]))]
  return (
    <Section title="The chosen part">
      <LengthRow
        label="Middle, from left"
        mm={laid.x}
        unit={unit}
        min={-20_000}
        max={20_000}
        stepMm={1}
        onChange={(x) => move({ x })}
      />
      <LengthRow
        label="Middle, from top"
        mm={laid.y}
        unit={unit}
        min={-20_000}
        max={20_000}
        stepMm={1}
        onChange={(y) => move({ y })}
      />
      <Row label="On">
        <Choice
          label="On which sheet"
          value={`${sheet.film} ${sheet.number - 1}`}
          options={[
            ...sheets.sheets.map((s) => ({
              value: `${s.film} ${s.number - 1}`,
              label: `${s.film_name}, sheet ${s.number}`,
            })),
            ...films.map(([film, s]) => ({ value: `${film} ${s.of}`, label: `${s.film_name}, a new sheet` })),
          ]}
          onChange={(to) => {
            const [sheet_film = '', number = '0'] = to.split(' ')
            move({ sheet_film, sheet: Number(number) })
            const at = sheets.sheets.findIndex(
              (s) => s.film === sheet_film && s.number - 1 === Number(number),
            )
            if (at >= 0) chooseSheet(at)
          }}
        />
      </Row>
      <Flex gap="2" justify="space-between" align="center">
        <Text fontSize="sm" color="softInk">
          Arrow keys move it, R turns it.
        </Text>
        <Button size="sm" variant="outline" onClick={() => move({ turn: (laid.turn + 90) % 360 })}>
          <RotateCw size={15} /> Turn
        </Button>
      </Flex>
      <Button size="sm" variant="outline" onClick={() => chooseCopy(null)}>
        Done
      </Button>
    </Section>
  )
}
