import { chakra } from '@chakra-ui/react'

/** A key as it is drawn beside what it does. */
export const Key = chakra('kbd', {
  base: {
    fontFamily: 'body',
    fontSize: 'xs',
    fontWeight: '600',
    bg: 'paper',
    borderWidth: '1px',
    borderColor: 'rule',
    borderRadius: 'sm',
    px: '1.5',
    py: '0.5',
    flexShrink: '0',
  },
})
