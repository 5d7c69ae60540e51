import { Button, chakra, Text } from '@chakra-ui/react'
import { limitsOf } from '../../../shared/api/model'
import { counted } from '../../../shared/design/counted'
import { OPERATION_WORDS, OPERATIONS, type Operation, partName } from '../../../shared/design/partNames'
import { type Combination, findPart } from '../../../shared/design/recipe'
import { useDesign } from '../../../shared/design/store'
import { useEvaluation, useUnit } from '../../../shared/evaluation/store'
import { Choice } from '../../../shared/fields/Choice'
import { FilmColour } from '../../../shared/fields/FilmField'
import { LengthRow } from '../../../shared/fields/LengthRow'
import { Row, Section } from '../../../shared/fields/Panel'
import { Segments } from '../../../shared/fields/Segments'
import { Toggle } from '../../../shared/fields/Toggle'
import { changeGround, release } from '../actions'
import { viewOf } from '../levels'
import { useBuild } from '../store'
import { change, changeOnce } from './change'
import type { PartKind } from './kind'

function CombinationFields({ part }: { part: Combination }) {
  const unit = useUnit()
  const { open, point } = useBuild.getState()
  const pointing = useBuild((s) => s.pointing)
  const level = useBuild((s) => s.level)
  const recipe = useDesign((s) => s.recipe)
  const halo = part.halo
  const ground = part.members[0] ?? ''
  return (
    <Section title="How it is put together">
      <Segments
        label="How it is put together"
        size="xs"
        value={part.how ?? 'weld'}
        options={([...OPERATIONS.slice(0, 3)] as Operation[]).map((how) => ({
          value: how,
          label: OPERATION_WORDS[how],
        }))}
        onChange={(how) => changeOnce({ how })}
        fill
      />
      <Segments
        label="How it is put together, otherwise"
        size="xs"
        value={part.how ?? 'weld'}
        options={(['divide', 'halo', 'edges'] as Operation[]).map((how) => ({
          value: how,
          label: OPERATION_WORDS[how],
        }))}
        onChange={(how) => changeOnce({ how })}
        fill
      />
      {part.members.length > 1 && (
        <Row label="Laid on">
          <Choice
            label="Laid on"
            value={ground}
            options={part.members.map((id) => ({ value: id, label: partName(findPart(recipe, id)) }))}
            onChange={(id) => changeGround(part.id, id)}
          />
        </Row>
      )}
      {part.how === 'halo' && halo && (
        <>
          <LengthRow
            label="Halo"
            mm={halo.mm}
            unit={unit}
            {...limitsOf('Halo', 'mm')}
            stepMm={0.5}
            onChange={(mm) => change({ halo: { ...halo, mm } })}
          />
          <Segments
            label="Manner of the halo"
            size="xs"
            value={halo.manner}
            options={[
              { value: 'stand', label: 'Names stand in it' },
              { value: 'through', label: 'Names cut through' },
            ]}
            onChange={(manner) => changeOnce({ halo: { ...halo, manner } })}
            fill
          />
          <Toggle checked={halo.islands} onChange={(islands) => changeOnce({ halo: { ...halo, islands } })}>
            Keep islands inside letters
          </Toggle>
        </>
      )}
      {part.how === 'edges' && (
        <>
          <Text fontSize="sm" color="softInk">
            {part.edges.length === 0
              ? 'Point at the edges to weld to; all others stay as they are.'
              : `Welded to ${counted(part.edges.length, 'edge')}; all others stay as they are.`}
          </Text>
          <Button
            size="sm"
            variant={pointing ? 'solid' : 'outline'}
            onClick={() => point(pointing ? null : { part: ground, for: 'edges' })}
          >
            {pointing ? 'Done' : 'Point at edges'}
          </Button>
        </>
      )}
      {part.how === 'divide' && <Regions part={part} />}
      {part.how !== 'edges' && (
        <LengthRow
          label="Leave out bits under"
          mm={part.least_mm}
          unit={unit}
          {...limitsOf('Combination', 'least_mm')}
          stepMm={0.1}
          onChange={(mm) => change({ least_mm: mm })}
        />
      )}
      <Row label="Its parts">
        <Button size="sm" variant="outline" onClick={() => open(level === part.id ? null : part.id)}>
          {level === part.id ? 'Done' : 'Change them'}
        </Button>
      </Row>
      <Button size="sm" variant="outline" onClick={() => release(part.id)}>
        Take it apart
      </Button>
    </Section>
  )
}

const Region = chakra('div', {
  base: { display: 'grid', gap: '1.5', borderWidth: '1px', borderColor: 'rule', borderRadius: 'md', p: '2' },
})

/** The regions of a division, by what covers them: each in a film, or left out. */
function Regions({ part }: { part: Combination }) {
  const view = viewOf(useEvaluation(), part.id)
  const recipe = useDesign((s) => s.recipe)
  const regions = view?.made?.regions ?? []
  const covers = [...new Map(regions.map((r) => [r.covers.join('+'), r])).entries()]
  const films = part.films ?? {}
  const set = (key: string, film: string) => {
    const rest = Object.fromEntries(Object.entries(films).filter(([k]) => !k.startsWith(`${key}/`)))
    change({ films: { ...rest, [key]: film } })
  }
  return covers.map(([key, region]) => {
    const names = region.covers.map((id) => partName(findPart(recipe, id))).join(' and ')
    const off = films[key] === 'none'
    return (
      <Region key={key}>
        <Text fontSize="sm" fontWeight="600">
          {region.covers.length > 1 ? `Where ${names} overlap` : `${names} alone`}
        </Text>
        {!off && (
          <FilmColour
            label={`Film of ${names}`}
            film={region.film ?? '#23201C'}
            onChange={(f) => set(key, f)}
          />
        )}
        <Toggle
          checked={!off}
          onChange={(on) =>
            set(key, on ? (findPart(recipe, region.covers.at(-1) ?? '')?.film ?? '#23201C') : 'none')
          }
        >
          Cut it
        </Toggle>
      </Region>
    )
  })
}

export const COMBINATION: PartKind<Combination> = {
  Fields: CombinationFields,
}
