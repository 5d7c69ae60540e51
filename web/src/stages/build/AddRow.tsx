import { chakra, Flex, Text } from '@chakra-ui/react'
import { useDesign } from '../../shared/design/store'
import { KINDS } from './kinds'
import { MOST_PARTS } from './parts'

const Tile = chakra('button', {
  base: {
    display: 'flex',
    alignItems: 'center',
    justifyContent: 'center',
    gap: '1.5',
    height: '38px',
    borderWidth: '1px',
    borderColor: 'rule',
    borderRadius: 'md',
    bg: 'card',
    cursor: 'pointer',
    fontSize: 'sm',
    fontWeight: '600',
    _hover: { borderColor: 'edge' },
    _disabled: { opacity: 0.5, cursor: 'default' },
  },
})

/** What can be added to the work. */
export function AddRow() {
  const count = useDesign((s) => s.recipe.parts.length)
  const full = count >= MOST_PARTS
  const offered = Object.values(KINDS).flatMap(({ add }) => (add ? [add] : []))
  return (
    <>
      <Flex
        as="div"
        role="group"
        aria-label="Add"
        display="grid"
        gridTemplateColumns="repeat(3, 1fr)"
        gap="1.5"
      >
        {offered.map(({ label, Icon, run }) => (
          <Tile key={label} type="button" disabled={full} onClick={run}>
            <Icon size={16} />
            {label}
          </Tile>
        ))}
      </Flex>
      {full && (
        <Text fontSize="sm" color="softInk">
          {`A design holds up to ${MOST_PARTS} parts.`}
        </Text>
      )}
    </>
  )
}
