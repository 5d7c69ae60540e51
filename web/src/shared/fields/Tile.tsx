import { chakra } from '@chakra-ui/react'

/** A card to press: what is chosen by its picture. */
export const Tile = chakra('button', {
  base: {
    borderWidth: '1px',
    borderColor: 'rule',
    borderRadius: 'md',
    bg: 'card',
    cursor: 'pointer',
    _hover: { borderColor: 'edge' },
    '&[aria-pressed=true], &[aria-checked=true]': {
      borderColor: 'ink',
      boxShadow: '0 0 0 1px {colors.ink}',
    },
  },
})

interface PictureProps {
  box: { x: number; y: number; width: number; height: number }
  d: string
}

/** An outline that fills a tile, in the tile's ink. */
export function OutlinePicture({ box, d }: PictureProps) {
  return (
    <svg
      width="100%"
      height="100%"
      viewBox={`${box.x} ${box.y} ${box.width} ${box.height}`}
      aria-hidden="true"
    >
      <path d={d} fill="currentColor" />
    </svg>
  )
}
