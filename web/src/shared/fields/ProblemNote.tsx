import { Box, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'

interface Props {
  what: string
  todo: string
  /** It stands in nobody's way: the work is made all the same. */
  mild?: boolean
  children?: ReactNode
}

/** What is wrong and what to do, beside the work; whatever helps is a button inside it. */
export function ProblemNote({ what, todo, mild = false, children }: Props) {
  return (
    <Box
      role={mild ? 'status' : 'alert'}
      bg={mild ? 'thinTint' : 'knifeTint'}
      borderLeftWidth="3px"
      borderColor={mild ? 'thin' : 'knife'}
      borderRadius="sm"
      px="3"
      py="2.5"
    >
      <Text fontWeight="650">{what}</Text>
      <Text color="ink" mt="0.5">
        {todo}
      </Text>
      {children}
    </Box>
  )
}
