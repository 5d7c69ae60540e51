import { Button, chakra, Flex, Text } from '@chakra-ui/react'
import { memo, type ReactNode, useDeferredValue } from 'react'
import { counted, nounOf } from '../../shared/design/counted'
import type { Unit } from '../../shared/design/recipe'
import { showCutLength, showNumber } from '../../shared/design/units'
import { piecesOf, type Seam } from '../../shared/evaluation/evaluation'
import {
  type Findings,
  useEvaluations,
  useFindings,
  useLaterEvaluation,
  useStale,
  useUnit,
} from '../../shared/evaluation/store'
import { FindingMark } from '../../shared/fields/FindingMark'
import { useView } from '../../shared/view/view'
import { tally } from '../../stages/check/findings'
import { narrowest } from '../../stages/join/seams'

/** The figures that never leave: pieces, size, length of cut and nodes. */
export const Readout = memo(function Readout() {
  const evaluation = useLaterEvaluation()
  const measured = useDeferredValue(useEvaluations((s) => s.measured))
  const cutParts = evaluation?.parts.filter((part) => part.use === 'cut') ?? []
  const seams = cutParts.flatMap((part) => measured?.get(part.id) ?? [])
  const findings = useFindings()
  const unit = useUnit()
  const stale = useStale()
  const pieces = piecesOf(evaluation)
  // Dots and accents that come off by themselves are counted apart.
  const dots = Math.min(evaluation?.loose_marks ?? 0, Math.max(0, pieces.length - 1))
  const whole = pieces.length - dots
  const holes = pieces.reduce((sum, piece) => sum + piece.holes, 0)
  const cut = showCutLength(evaluation?.cut_length_mm ?? 0, unit)
  return (
    <Flex
      as="section"
      aria-label="Figures"
      aria-live="polite"
      height="readout"
      flexShrink="0"
      px="5"
      justify="flex-start"
      containerType="inline-size"
      bg="card"
      borderTopWidth="1px"
      borderColor="rule"
      whiteSpace="nowrap"
      overflow="hidden"
      opacity={stale || !evaluation ? 0.45 : 1}
    >
      <Row>
        <Figure name="pieces" number={String(whole)}>
          {nounOf(whole, 'piece')}
          {dots > 0 && (
            <>
              {` + ${dots} `}
              <Words long={nounOf(dots, 'dot or accent', 'dots or accents')} short={nounOf(dots, 'dot')} />
            </>
          )}
          {holes > 0 && (
            <Note>
              <Words long="with " short="" />
              {`${counted(holes, 'hole')}`}
            </Note>
          )}
        </Figure>
        <Figure
          name="size"
          number={`${showNumber(evaluation?.box.width ?? 0, unit)} × ${showNumber(evaluation?.box.height ?? 0, unit)}`}
        >
          {unit}
        </Figure>
        <Figure name="cut" number={cut.number}>
          {cut.unit} <Words long="of cut" short="cut" />
        </Figure>
        {findings && <Check findings={findings} />}
        {evaluation && seams.length > 0 && <Neck seams={seams} unit={unit} />}
        <Figure name="nodes" number={String(evaluation?.nodes ?? 0)}>
          nodes
        </Figure>
      </Row>
    </Flex>
  )
})

/** Figures in a row. Where there is little room their words are shorter, and what does not fit moves into sight. */
const Row = chakra('div', {
  base: {
    display: 'flex',
    columnGap: '6',
    overflowX: 'auto',
    scrollbarWidth: 'none',
    '@container (max-width: 860px)': { columnGap: '4' },
    '@container (max-width: 780px)': { columnGap: '2.5', fontSize: 'sm', '& strong': { fontSize: 'lg' } },
  },
})

const Long = chakra('span', { base: { '@container (max-width: 860px)': { display: 'none' } } })
const Short = chakra('span', { base: { '@container (min-width: 860.01px)': { display: 'none' } } })

/** Words that are shorter where there is little room. */
function Words({ long, short }: { long: string; short: string }) {
  return (
    <>
      <Long>{long}</Long>
      <Short>{short}</Short>
    </>
  )
}

/** Whether anything stands in the way of the cut; leads to the Check stage. */
function Check({ findings }: { findings: Findings }) {
  const { repair, look } = tally(findings)
  const setStage = useView((s) => s.setStage)
  const said = repair > 0 ? `to repair` : look > 0 ? 'to look at' : ''
  return (
    <Button
      variant="plain"
      data-figure="findings"
      height="auto"
      minWidth="0"
      p="0"
      fontWeight="450"
      fontSize="md"
      gap="1.5"
      lineHeight="{sizes.readout}"
      color="ink"
      title="To the Check stage"
      onClick={() => setStage('check')}
    >
      <FindingMark blocks={repair > 0} look={look > 0} />
      {said ? (
        <>
          <Text as="strong" fontSize="xl" fontWeight="700">
            {repair > 0 ? repair : look}
          </Text>
          {said}
        </>
      ) : (
        'clear to cut'
      )}
    </Button>
  )
}

/** The narrowest neck, or how many gaps there are: what would come off in the hand. */
function Neck({ seams, unit }: { seams: readonly Seam[]; unit: Unit }) {
  const gaps = seams.filter((s) => s.state === 'gap').length
  const neck = narrowest(seams)
  return (
    <>
      {neck !== null && (
        <Figure name="neck" number={showNumber(neck, unit, unit === 'in' ? 3 : 2)}>
          {unit} <Words long="narrowest neck" short="neck" />
        </Figure>
      )}
      {gaps > 0 && (
        <Figure name="gaps" number={String(gaps)}>
          {nounOf(gaps, 'gap')}
        </Figure>
      )}
    </>
  )
}

function Figure({ name, number, children }: { name: string; number: string; children: ReactNode }) {
  return (
    <Text data-figure={name} fontVariantNumeric="tabular-nums" lineHeight="{sizes.readout}">
      <Text as="strong" fontSize="xl" fontWeight="700" mr="1.5">
        {number}
      </Text>
      {children}
    </Text>
  )
}

function Note({ children }: { children: ReactNode }) {
  return (
    <Text as="span" color="softInk" ml="1.5">
      {children}
    </Text>
  )
}
