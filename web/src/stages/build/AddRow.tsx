import { chakra, Flex, Text } from '@chakra-ui/react'
import { FileInput, Flower2, Frame, PenLine, Spline, Star, SwatchBook } from 'lucide-react'
import type { ReactNode } from 'react'
import { useSelection } from '../../shared/design/selection'
import { useDesign } from '../../shared/design/store'
import { addBacking, addLettering, middleOfView, put } from './actions'
import { MOST_PARTS, newPart } from './parts'
import { type Picker, useBuild } from './store'

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
  const chosen = useSelection((s) => s.selection.part)
  const { pick } = useBuild.getState()
  const full = count >= MOST_PARTS
  const opens = (picker: Picker) => () => pick(picker)
  const tiles: { name: string; mark: ReactNode; onClick: () => void }[] = [
    { name: 'Lettering', mark: <PenLine size={16} />, onClick: addLettering },
    { name: 'Frame', mark: <Frame size={16} />, onClick: opens('frames') },
    { name: 'Shape', mark: <Star size={16} />, onClick: opens('shapes') },
    {
      name: 'Line',
      mark: <Spline size={16} />,
      onClick: () =>
        put(newPart(useDesign.getState().recipe, 'line', { course: 'straight' }, middleOfView())),
    },
    { name: 'Ornament', mark: <Flower2 size={16} />, onClick: opens('ornaments') },
    { name: 'Drawing', mark: <FileInput size={16} />, onClick: opens('drawing') },
    { name: 'Backing', mark: <SwatchBook size={16} />, onClick: () => addBacking(chosen) },
  ]
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
        {tiles.map(({ name, mark, onClick }) => (
          <Tile key={name} type="button" disabled={full} onClick={onClick}>
            {mark}
            {name}
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
