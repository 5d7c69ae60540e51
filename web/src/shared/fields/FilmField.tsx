import { chakra, Flex, Text } from '@chakra-ui/react'
import { asOneStep, editRecipeOnce, endStep, useDesign, usePart } from '../design/store'
import { Toggle } from './Toggle'

/** Film colours to begin with; any other can be mixed. */
const FILMS = [
  { value: '#23201C', name: 'Black' },
  { value: '#2B5674', name: 'Harbour blue' },
  { value: '#2F6B4F', name: 'Green' },
  { value: '#8C2F39', name: 'Red' },
  { value: '#C8932B', name: 'Gold' },
  { value: '#6B4A2B', name: 'Wood' },
  { value: '#8A9199', name: 'Silver' },
] as const

const Swatch = chakra('button', {
  base: {
    width: '26px',
    height: '26px',
    borderRadius: 'full',
    borderWidth: '2px',
    borderColor: 'card',
    cursor: 'pointer',
    outlineOffset: '1px',
    '&[aria-pressed=true]': { boxShadow: '0 0 0 2px {colors.ink}' },
  },
})
const Mix = chakra('input', {
  base: { width: '30px', height: '26px', p: '0', bg: 'transparent', cursor: 'pointer', borderRadius: 'sm' },
})

interface ColourProps {
  label: string
  film: string
  onChange: (film: string) => void
}

/** A film by its colour. */
export function FilmColour({ label, film, onChange }: ColourProps) {
  return (
    <Flex gap="2" align="center" wrap="wrap" role="group" aria-label={label}>
      {FILMS.map((f) => (
        <Swatch
          key={f.value}
          type="button"
          aria-label={f.name}
          title={f.name}
          aria-pressed={film.toUpperCase() === f.value}
          bg={f.value}
          onClick={() => {
            asOneStep(() => onChange(f.value))
          }}
        />
      ))}
      <Mix
        type="color"
        aria-label="Another colour"
        title="Another colour"
        value={film}
        onChange={(e) => onChange(e.target.value.toUpperCase())}
        onBlur={endStep}
      />
    </Flex>
  )
}

/** The film's colour, and whether it is cut from the back. */
export function FilmField() {
  const film = usePart((part) => part.film)
  const edit = useDesign((s) => s.edit)
  const mirror = useDesign((s) => s.recipe.mirror)
  return (
    <>
      <FilmColour label="Colour of the film" film={film} onChange={(colour) => edit({ film: colour })} />
      <Toggle
        checked={mirror}
        onChange={(checked) => {
          editRecipeOnce({ mirror: checked })
        }}
      >
        Mirror{' '}
        <Text as="span" color="softInk">
          for iron-on film
        </Text>
      </Toggle>
    </>
  )
}
