import { Flex, Text } from '@chakra-ui/react'
import { defaultsOf, limitsOf } from '../../shared/api/model'
import { useAble, useFaces } from '../../shared/faces/useFaces'
import { Choice } from '../../shared/fields/Choice'
import { LengthRow } from '../../shared/fields/LengthRow'
import { NumberRow } from '../../shared/fields/NumberRow'
import { Row, Section } from '../../shared/fields/Panel'
import { Toggle } from '../../shared/fields/Toggle'
import { facesInstead, type GiveWay, wordsNotMade } from './order'
import { useOrder, usePlan, useRows } from './useOrder'

const MOST = limitsOf('GiveWay', 'narrower').max * 100

/** What a name may do where it does not go as the design is: asked once for all of them. */
export function GiveWayFields() {
  const { in_frame, unit } = useOrder()
  const { plan, change, changeBy } = usePlan()
  const give = plan.give_way
  const allow = (more: Partial<GiveWay>) =>
    changeBy(({ give_way }) => ({ give_way: { ...give_way, ...more } }))
  const roomier = (more: Partial<NonNullable<GiveWay['room']>>) =>
    changeBy(({ give_way }) => ({
      give_way: { ...give_way, room: { ...(give_way.room ?? defaultsOf('RowRoom')), ...more } },
    }))
  const faces = useFaces()
  const notMade = wordsNotMade(useRows().rows)
  const able = useAble(notMade)
  const inUse = give.faces[0]
  const { room } = give
  return (
    <Section title="What may give way">
      <NumberRow
        label="Letters narrower, to"
        sign="%"
        value={Math.round((1 - give.narrower) * 100)}
        min={100 - MOST}
        max={100}
        onChange={(share) => allow({ narrower: (100 - share) / 100 })}
      />
      {!in_frame && (
        <>
          <Toggle
            checked={room !== null}
            onChange={(limited) => allow({ room: limited ? defaultsOf('RowRoom') : null })}
          >
            Each in a room of its own
          </Toggle>
          {room && (
            <>
              <LengthRow
                label="Width at most"
                mm={room.width_mm}
                unit={unit}
                min={1}
                max={20_000}
                stepMm={1}
                onChange={(mm) => roomier({ width_mm: mm })}
              />
              <LengthRow
                label="Height at most"
                mm={room.height_mm}
                unit={unit}
                min={1}
                max={20_000}
                stepMm={1}
                onChange={(mm) => roomier({ height_mm: mm })}
              />
              <NumberRow
                label="Smaller, to"
                sign="%"
                value={Math.round((1 - give.smaller) * 100)}
                min={100 - MOST}
                max={100}
                onChange={(share) => allow({ smaller: (100 - share) / 100 })}
              />
            </>
          )}
          <Toggle checked={plan.same_size} onChange={(same_size) => change({ same_size })}>
            All letters the same size
          </Toggle>
        </>
      )}
      <Toggle checked={give.two_lines} onChange={(two_lines) => allow({ two_lines })}>
        In two lines
      </Toggle>
      <Row label="In another face">
        <Choice
          label="In another face"
          value={inUse ?? ''}
          options={facesInstead(faces, new Set(notMade ? able?.faces : []), inUse)}
          onChange={(face) => allow({ faces: face ? [face] : [] })}
        />
      </Row>
      <Toggle checked={give.ready} onChange={(ready) => allow({ ready })}>
        Made ready to cut
      </Toggle>
      <Flex>
        <Text fontSize="sm" color="softInk">
          The gentlest way that holds is taken, and the row says which.
        </Text>
      </Flex>
    </Section>
  )
}
