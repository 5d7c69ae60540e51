import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { counted } from '../../shared/design/counted'
import { useDesign } from '../../shared/design/store'
import { Expander } from '../../shared/fields/Expander'
import { HoldToSee } from '../../shared/fields/HoldToSee'
import { Section } from '../../shared/fields/Panel'
import { Toggle } from '../../shared/fields/Toggle'
import {
  asMade,
  type MendedKind,
  type MendedPlace,
  readied,
  take,
  useReady,
  withKindLeft,
  withPlaceLeft,
  withPlaceMended,
} from '../../shared/ready/ready'
import { useView } from '../../shared/view/view'
import { around } from './findings'

/** Everything mended at once: what would be done is on the work before it is taken, and each of it can be left
 * as it is. */
export function ReadySection() {
  const told = useReady()
  const asked = useDesign((s) => s.recipe.ready != null)
  if (!told || told.asked !== asked) return null
  if (!asked && told.kinds.length === 0) return null
  return (
    <Section title={asked ? 'Made ready' : 'Ready in one step'}>
      {asked ? (
        <Asked kinds={told.kinds} left={told.places_left} />
      ) : (
        <Offered kinds={told.kinds} still={told.still} />
      )}
    </Section>
  )
}

function Offered({ kinds, still }: { kinds: readonly MendedKind[]; still: readonly string[] }) {
  return (
    <>
      <Button bg="ink" color="card" fontWeight="650" onClick={() => take(readied)}>
        Make it ready
      </Button>
      <Box as="ul" listStyleType="none" fontSize="sm" aria-label="What would be done">
        {kinds.map(({ kind, what }) => (
          <li key={kind}>{what}</li>
        ))}
      </Box>
      <Text fontSize="sm" color="softInk">
        Green on the work. It is done anew whenever the design changes, and can be taken back.
      </Text>
      <Still still={still} />
    </>
  )
}

/** What making ready cannot mend. */
function Still({ still }: { still: readonly string[] }) {
  if (still.length === 0) return null
  return (
    <Text fontSize="sm" color="softInk">
      {counted(still.length, 'thing stays to be repaired: ', 'things stay to be repaired: ')}
      {still[0]}
    </Text>
  )
}

interface AskedProps {
  kinds: readonly MendedKind[]
  left: readonly { number: number; what: string }[]
}

function Asked({ kinds, left }: AskedProps) {
  return (
    <>
      {kinds.length === 0 && (
        <Text fontSize="sm" color="softInk">
          Nothing needs mending now. Whatever a change makes too thin or too small is mended.
        </Text>
      )}
      {kinds.map((kind) => (
        <Kind key={kind.kind} of={kind} />
      ))}
      {left.length > 0 && (
        <Flex as="ul" direction="column" gap="1" listStyleType="none" aria-label="Left as they are">
          {left.map(({ number, what }) => (
            <Flex as="li" key={number} justify="space-between" align="center" fontSize="sm">
              <Text color="softInk">{what}: one place left as it is</Text>
              <Button
                size="xs"
                variant="outline"
                onClick={() => take((recipe) => withPlaceMended(recipe, number))}
              >
                Mend it
              </Button>
            </Flex>
          ))}
        </Flex>
      )}
      <Flex gap="2" wrap="wrap">
        <HoldToSee kind="as-made">Hold to see it without (B)</HoldToSee>
        <Button size="sm" variant="outline" onClick={() => take(asMade)}>
          As it was
        </Button>
      </Flex>
    </>
  )
}

function Kind({ of: { kind, name, what, left, places } }: { of: MendedKind }) {
  return (
    <Flex direction="column" gap="0.5" data-mended={kind}>
      <Toggle checked={!left} onChange={(mends) => take((recipe) => withKindLeft(recipe, kind, !mends))}>
        {left ? `${name} left as they are` : what}
      </Toggle>
      {places.length > 0 && (
        <Expander label={places.length === 1 ? 'Where' : `Where, ${places.length} places`} open={false}>
          <Flex as="ul" direction="column" listStyleType="none" aria-label={`${name}, place by place`}>
            {places.map((place) => (
              <Place key={`${place.box.x} ${place.box.y} ${place.what}`} kind={kind} place={place} />
            ))}
          </Flex>
        </Expander>
      )}
    </Flex>
  )
}

function Place({ kind, place }: { kind: MendedKind['kind']; place: MendedPlace }) {
  return (
    <Flex as="li" justify="space-between" align="start" gap="2" py="1" fontSize="sm">
      <Button
        variant="plain"
        size="sm"
        height="auto"
        px="0"
        py="0"
        fontWeight="450"
        whiteSpace="normal"
        textAlign="left"
        justifyContent="start"
        flex="1"
        minWidth="0"
        onClick={() => useView.getState().show(around(place))}
      >
        {place.what}
      </Button>
      <Button
        size="xs"
        variant="outline"
        flexShrink="0"
        onClick={() => take((recipe) => withPlaceLeft(recipe, kind, place))}
      >
        Leave it
      </Button>
    </Flex>
  )
}
