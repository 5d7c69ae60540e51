import { chakra, Flex } from '@chakra-ui/react'
import { NavLink } from 'react-router'
import { Brand } from '../../shared/fields/Brand'

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
    <Flex
      as="header"
      height="bar"
      px="8"
      gap="6"
      align="center"
      bg="card"
      borderBottomWidth="1px"
      borderColor="rule"
    >
      <Brand />
      <Flex as="nav" aria-label="The shop" gap="1">
        <Tab to="/" end>
          Designs
        </Tab>
        <Tab to="/orders">Orders</Tab>
      </Flex>
    </Flex>
  )
}
