import { chakra, Flex } from '@chakra-ui/react'
import { NavLink } from 'react-router'
import { Bar } from '../../shared/fields/Bar'

const Tab = chakra(NavLink, {
  base: {
    px: '3',
    py: '1.5',
    borderRadius: 'md',
    fontWeight: '600',
    color: 'softInk',
    _hover: { color: 'ink' },
    '&[aria-current=page]': { color: 'ink', bg: 'paper' },
  },
})

/** What is kept in the shop: designs and orders. */
export function ShelfBar() {
  return (
    <Bar px="8" gap="6">
      <Flex as="nav" aria-label="The shop" gap="1">
        <Tab to="/" end>
          Designs
        </Tab>
        <Tab to="/orders">Orders</Tab>
      </Flex>
    </Bar>
  )
}
