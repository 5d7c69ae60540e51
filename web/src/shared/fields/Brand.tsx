import { chakra } from '@chakra-ui/react'
import { Link } from 'react-router'

const HomeLink = chakra(Link)

/** The name, underlined by one stroke of the knife. It leads to the shelf. */
export function Brand() {
  return (
    <HomeLink
      to="/"
      aria-label="Fulgen: to the shelf"
      fontWeight="750"
      fontSize="xl"
      letterSpacing="-0.02em"
      position="relative"
      width="fit-content"
      pb="1"
      _hover={{ color: 'knifeDeep' }}
    >
      Fulgen
      <chakra.svg
        viewBox="0 0 68 6"
        position="absolute"
        left="0"
        bottom="-1px"
        width="100%"
        height="6px"
        aria-hidden
      >
        <path
          d="M1 4.2Q22 .6 40 2.6T67 2"
          fill="none"
          stroke="var(--chakra-colors-knife)"
          strokeWidth="2"
          strokeLinecap="round"
        />
      </chakra.svg>
    </HomeLink>
  )
}
